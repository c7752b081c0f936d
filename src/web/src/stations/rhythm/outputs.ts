/** What hangs on an output, in words. */
import type { OutputDesign } from "@/api/client";

export const loads: { value: OutputDesign["load"]; label: string }[] = [
  { value: "lamp", label: "a lamp" },
  { value: "fan", label: "a fan" },
  { value: "pump", label: "a pump" },
  { value: "valve", label: "a valve" },
  { value: "motor", label: "a motor" },
  { value: "heater", label: "a heater" },
  { value: "sounder", label: "a sounder" },
  { value: "other", label: "something else" },
];
