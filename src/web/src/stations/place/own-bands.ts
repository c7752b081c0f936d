/** Bands of a region of one's own, as they are typed. */
import type { OwnBand } from "@/api/client";

/** A band whose numbers may still be missing. */
export type TypedBand = Omit<OwnBand, "lowMegahertz" | "highMegahertz" | "mostDbm" | "dutyPercent" | "longestMs"> & {
  lowMegahertz: number | "";
  highMegahertz: number | "";
  mostDbm: number | "";
  dutyPercent: number | "";
  longestMs: number | "";
};

export const emptyBand = (): TypedBand => ({
  lowMegahertz: "",
  highMegahertz: "",
  mostDbm: "",
  power: "isotropic",
  dutyPercent: "",
  longestMs: "",
  source: "",
});

export const typed = (band: OwnBand): TypedBand => ({
  ...band,
  dutyPercent: band.dutyPercent ?? "",
  longestMs: band.longestMs ?? "",
});

/** The bands as they are sent; null while a number that must be there is missing. */
export function read(bands: TypedBand[]): OwnBand[] | null {
  const sent = bands.map(({ lowMegahertz, highMegahertz, mostDbm, dutyPercent, longestMs, ...rest }) =>
    lowMegahertz === "" || highMegahertz === "" || mostDbm === ""
      ? null
      : {
          ...rest,
          lowMegahertz,
          highMegahertz,
          mostDbm,
          dutyPercent: dutyPercent === "" ? null : dutyPercent,
          longestMs: longestMs === "" ? null : longestMs,
        },
  );
  return sent.every((b) => b !== null) ? sent : null;
}
