// What is glued.
export function GluePanel() {
  return (
    <>
      <h2>Glue</h2>
      <p>This board is cut from one piece, so that nothing is glued.</p>
    </>
  );
}
