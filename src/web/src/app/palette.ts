/** Light or night: as the system says until somebody chooses. */
import { usePreferredDark, useStorage } from "@vueuse/core";
import { computed, watchEffect } from "vue";

const chosen = useStorage<"light" | "night" | "system">("cenotic-palette", "system");

export function usePalette() {
  const dark = usePreferredDark();
  const palette = computed(() => (chosen.value === "system" ? (dark.value ? "night" : "light") : chosen.value));
  watchEffect(() => (document.documentElement.dataset.palette = palette.value));
  return { palette, toggle: () => (chosen.value = palette.value === "night" ? "light" : "night") };
}
