/** A node with one decision changed, as the edit that the door takes. */
import type { DesignEdit, NodeDesign } from "@/api/client";

type Settings = Pick<
  NodeDesign,
  | "label"
  | "spot"
  | "board"
  | "power"
  | "link"
  | "sleeps"
  | "measuresSupply"
  | "addsModules"
  | "housing"
  | "sending"
  | "via"
  | "correctsItself"
  | "radio"
  | "relays"
>;

export function setNode(node: NodeDesign, change: Partial<Settings>): DesignEdit {
  const { label, spot, board, power, link, sleeps, measuresSupply, addsModules, housing, sending, via, correctsItself } = node;
  const { radio, relays } = node;
  const settings: Settings = {
    ...{ label, spot, board, power, link, sleeps, measuresSupply, addsModules, housing, sending, via, correctsItself },
    ...{ radio, relays },
    ...change,
  };
  return { kind: "setNode", node: node.key, ...settings };
}
