// Files in: chosen by a press, sent as they are.
import { useId } from "react";
import { Refused, type Problem } from "../api/client";

/** send posts a file as it is and gives the answer, or throws Refused. */
export async function send<T>(path: string, file: Blob): Promise<T> {
  const response = await fetch(path, {
    method: "POST",
    body: file,
    headers: { "Content-Type": "application/octet-stream" },
  });
  const answer: unknown = await response.json().catch(() => ({}));
  if (!response.ok) throw new Refused(response.status, answer as Problem);
  return answer as T;
}

/** FilePick is a button that asks for a file. */
export function FilePick({
  label,
  accept,
  busy = false,
  onFile,
}: {
  label: string;
  accept: string;
  busy?: boolean;
  onFile: (file: File) => void;
}) {
  const id = useId();
  return (
    <>
      <input
        id={id}
        type="file"
        className="visually-hidden file-pick"
        accept={accept}
        disabled={busy}
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = ""; // the same file may be chosen again
          if (file) onFile(file);
        }}
      />
      <label htmlFor={id} className={`btn btn-sm btn-outline-primary ${busy ? "disabled" : ""}`}>
        {busy ? "Reading" : label}
      </label>
    </>
  );
}
