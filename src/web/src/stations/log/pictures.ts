/** Pictures for the log: made small in the browser, so that a phone's camera is no burden for the store. */
import { api, sentence } from "@/api/client";

export const mostPictures = 4;
const LONGEST_EDGE = 1280;
const MOST_BYTES = 1 << 20;

/** The picture as a JPEG of at most 1280 pixels a side and 1 MiB. */
export async function small(file: File): Promise<Blob> {
  const picture = await createImageBitmap(file).catch(() => {
    throw new Error(`${file.name} is no picture that this browser can read.`);
  });
  const scale = Math.min(1, LONGEST_EDGE / Math.max(picture.width, picture.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round(picture.width * scale));
  canvas.height = Math.max(1, Math.round(picture.height * scale));
  canvas.getContext("2d")!.drawImage(picture, 0, 0, canvas.width, canvas.height);
  for (const quality of [0.82, 0.6, 0.4]) {
    const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/jpeg", quality));
    if (blob && blob.size <= MOST_BYTES) return blob;
  }
  throw new Error(`${file.name} cannot be made small enough.`);
}

/** Keeps a picture with a note; gives the reason when it could not. */
export async function keepPicture(site: string, note: number, picture: Blob): Promise<string> {
  const { error, response } = await api.POST("/api/sites/{site}/log/notes/{id}/pictures", {
    params: { path: { site, id: note } },
    body: picture as never,
    bodySerializer: (b: unknown) => b as Blob,
    headers: { "Content-Type": "image/jpeg" },
  } as never);
  return response.ok ? "" : sentence(error);
}
