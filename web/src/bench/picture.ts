// Pictures taken at the bench, made small enough to be kept on the device until the server has them.

/** The longer side of a kept picture, px, and how many signs of base64 it may take. */
const longest = 1024;
const most = 400_000;

/** small is a picture as a small JPEG in base64. It fails where the file is no picture. */
export async function small(file: Blob): Promise<string> {
  const image = await createImageBitmap(file);
  for (let side = longest; ; side = Math.round(side * 0.7)) {
    const by = Math.min(1, side / Math.max(image.width, image.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.max(1, Math.round(image.width * by));
    canvas.height = Math.max(1, Math.round(image.height * by));
    const on = canvas.getContext("2d");
    if (!on) throw new Error("nothing to draw on");
    on.drawImage(image, 0, 0, canvas.width, canvas.height);
    const [, data] = canvas.toDataURL("image/jpeg", 0.8).split(",");
    if (data.length <= most) return data;
  }
}
