/** Puts a part on a node, with a reading for what it measures. */
import type { DesignEdit, NodeDesign, Part } from "@/api/client";
import { keyFrom } from "@/app/site";

const words: Record<string, string> = { illuminance: "light" };

export function placing(part: Part, node: NodeDesign): { label: string; edits: DesignEdit[] } {
  const taken = node.parts.map((p) => p.key);
  const key = keyFrom(part.id.split("-")[0]!, taken);
  const short = part.label.split(/[:,]/)[0]!.slice(0, 40);
  const label = node.parts.some((p) => p.label === short) ? `${short} ${key.split("-").at(-1)}` : short;
  const edits: DesignEdit[] = [
    {
      kind: "putPart",
      node: node.key,
      part: {
        key,
        label,
        part: part.id,
        interface: null,
        address: null,
        leadMetres: part.helper ? 0.1 : 0.3,
        switchSupply: false,
        bits: null,
      },
    },
  ];
  const used = node.readings.map((r) => r.key);
  const first = part.interfaces[0]?.quantities;
  for (const q of first ? part.quantities.filter((i) => first.includes(i.quantity)) : part.quantities) {
    const name = words[q.quantity] ?? q.quantity;
    const reading = keyFrom(`${key}-${name}`, used);
    used.push(reading);
    const gauge = q.kind === "gauge" || q.kind === "counter";
    edits.push({
      kind: "putReading",
      node: node.key,
      reading: {
        key: reading,
        label: `${label} ${name}`.slice(0, 60),
        part: key,
        quantity: q.quantity,
        intervalMs: gauge ? 60000 : null,
        heartbeatMs: gauge ? null : 600000,
        decimals: q.resolution && q.resolution < 0.5 ? 1 : 0,
        batchOf: 1,
      },
    });
  }
  return { label, edits };
}
