/** A node with one decision changed, as the edit that the door takes. */
import type { DesignEdit, NodeDesign, RadioDesign, RadioPlace } from "@/api/client";

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

const noRadio: Required<RadioDesign> = {
  frequencyMegahertz: null,
  spreadingFactor: null,
  bandwidthKilohertz: null,
  codingRate: null,
  bitsPerSecond: null,
  powerDbm: null,
  antennaGainDbi: null,
  antennaFlat: null,
  hopChannels: null,
};

/** A radio set otherwise, where its settings stand: with its part or with its node. None where all of it is as usual. */
export function setRadio(nodes: NodeDesign[], { node, part, set }: RadioPlace, change: Partial<RadioDesign>): DesignEdit {
  const all = { ...noRadio, ...set, ...change };
  const radio = Object.values(all).every((v) => v === null) ? null : all;
  const owner = nodes.find((n) => n.key === node)!;
  return part == null
    ? setNode(owner, { radio })
    : { kind: "putPart", node, part: { ...owner.parts.find((p) => p.key === part)!, radio } };
}
