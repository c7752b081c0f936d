/** Pictures of a note of the log. */
import { api, sentence } from "@/api/client";
import { smallPicture } from "@/kit/pictures";

export const mostPictures = 4;

/** The picture as a JPEG of at most 1280 pixels a side. */
export const small = async (file: File) => (await smallPicture(file, 1280)).blob;

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
