/** Pictures that are sent: made small in the browser, so that a phone's camera is no burden for the store. */

const MOST_BYTES = 1 << 20;

/** The picture as a JPEG with an edge of so many pixels at most and 1 MiB, and its size. */
export async function smallPicture(file: File, longestEdge: number): Promise<{ blob: Blob; width: number; height: number }> {
  const picture = await createImageBitmap(file).catch(() => {
    throw new Error(`${file.name} is no picture that this browser can read.`);
  });
  const scale = Math.min(1, longestEdge / Math.max(picture.width, picture.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round(picture.width * scale));
  canvas.height = Math.max(1, Math.round(picture.height * scale));
  canvas.getContext("2d")!.drawImage(picture, 0, 0, canvas.width, canvas.height);
  for (const quality of [0.82, 0.6, 0.4]) {
    const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/jpeg", quality));
    if (blob && blob.size <= MOST_BYTES) return { blob, width: canvas.width, height: canvas.height };
  }
  throw new Error(`${file.name} cannot be made small enough.`);
}
