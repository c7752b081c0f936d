/** The usual way of sending, where the design says nothing: as the core fills it in. */
import type { SendDesign } from "@/api/client";

export const plainSending: SendDesign = {
  acknowledged: true,
  mostTries: 3,
  deliveredShare: null,
  hearsTime: false,
  clockPpm: 20,
  resyncMs: 3_600_000,
  jitterMs: 5,
  bufferBytes: null,
  mostFields: null,
  leastSpacingMs: null,
};
