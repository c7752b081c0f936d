/** Names and units of readings, measured or worked out, as the server tells them. */
import type { ReadingRef } from "@/api/client";
import type { SiteContext } from "@/app/site";
import { useReadings } from "./readings";

/** A reading as one value of a form, "node/key", and back. */
export const idOf = (r: ReadingRef) => `${r.node}/${r.reading}`;
export const refOf = (id: string): ReadingRef => ({ node: id.split("/")[0]!, reading: id.split("/")[1] ?? "" });

export function useNames(site: SiteContext) {
  const { readings } = useReadings(site);
  const of = (node: string, key: string) => readings.value.find((r) => r.node === node && r.key === key);
  return {
    readings,
    of,
    label: (node: string, key: string) => {
      const r = of(node, key);
      return r ? `${r.label} (${r.nodeLabel})` : `${node}/${key}`;
    },
    isState: (node: string, key: string) => ["state", "event"].includes(of(node, key)?.kind ?? ""),
    unit: (node: string, key: string) => of(node, key)?.unit ?? "",
  };
}
export type Names = ReturnType<typeof useNames>;
