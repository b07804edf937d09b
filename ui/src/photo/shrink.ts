/** The longer side of a photo at the most, px: as the server keeps it (core/photo). */
const longSide = 1600;
/** What the server takes of a request, less some, bytes. */
const mostBytes = 950_000;

/** The sides of a picture that is made no longer than the longest side, px. */
export function fitted(width: number, height: number) {
  const by = Math.min(1, longSide / Math.max(width, height));
  return { width: Math.max(1, Math.round(width * by)), height: Math.max(1, Math.round(height * by)) };
}

/** Draws a picture anew, small enough to be sent: what a camera wrote into the file, such as where it was taken, is left behind, and
 *  the picture stands upright. Throws in plain words when the file is none. */
export async function shrink(file: Blob): Promise<Blob> {
  let picture: ImageBitmap;
  try {
    picture = await createImageBitmap(file, { imageOrientation: "from-image" });
  } catch {
    throw new Error("This device cannot read that file as a picture: choose a photo.");
  }
  const { width, height } = fitted(picture.width, picture.height);
  const canvas = document.createElement("canvas");
  canvas.width = width;
  canvas.height = height;
  canvas.getContext("2d")?.drawImage(picture, 0, 0, width, height);
  picture.close();
  for (const quality of [0.82, 0.6, 0.4]) {
    const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/jpeg", quality));
    if (blob && blob.size <= mostBytes) return blob;
  }
  throw new Error("This picture stays too large however it is packed: take another one.");
}
