/** Supplies as the interface offers them. */
import type { LinkTraits, NodeDesign, PowerDesign } from "@/api/client";

export const supplyNames: Record<PowerDesign["kind"], string> = {
  usb: "USB",
  fiveVolt: "5 V supply",
  cells: "cells",
  twelveVolt: "12 V source",
  twentyFourVolt: "24 V source",
  overCable: "Power over the network cable",
  capacitor: "Storage capacitor, filled by light",
};

export const linkNames: Record<NodeDesign["link"], string> = {
  wifi: "Wi-Fi of the board",
  frames: "Wi-Fi frames of the board, without a connection",
  advertising: "Bluetooth advertising of the board",
  codedAdvertising: "coded Bluetooth advertising of the board",
  ieee802154: "the IEEE 802.15.4 radio of the board",
  longRange: "a radio module of its own",
  cable: "its network cable",
  onOffKeyed: "an on-off keyed transmitter of its own",
  serialCable: "a serial cable, such as its USB",
  textMessage: "text messages, by a mobile modem of its own",
  card: "nothing: it writes to a storage card",
};

/** What a way to send is. */
export const traitsOf = (link: NodeDesign["link"], usual: { links: LinkTraits[] }) => usual.links.find((l) => l.link === link)!;

/** What to know before a node sends so. */
export const linkHints: Partial<Record<NodeDesign["link"], string>> = {
  frames: "A gateway hears them whose board is of the same chip family; the server hears only the gateway.",
  advertising: "Anyone near can read it, and nobody answers: each message is sent several times.",
  codedAdvertising: "It reaches further and is longer on the air; the board of the gateway must have that rate too.",
  onOffKeyed:
    "Anyone near can read and copy it, and it hears nothing: each message is sent several times, and commands do not reach the node.",
  serialCable: "To the machine that runs this program. Set the line up at the foot of Watch; commands do not reach the node.",
  textMessage:
    "To the modem of a gateway on the network. Each text is paid for; whether the network reaches the place, a telephone shows.",
  ieee802154: "To a gateway with the same radio, which is on the network itself.",
};
