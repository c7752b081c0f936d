/** Light or night: as the system says until somebody chooses. */
import { usePreferredDark, useStorage } from "@vueuse/core";
import { computed, ref, watchEffect } from "vue";

const chosen = useStorage<"light" | "night" | "system">("cenotic-palette", "system");

/** A wall at night is dark whatever was chosen. */
export const nightOnWall = ref(false);

export function usePalette() {
  const dark = usePreferredDark();
  const palette = computed(() =>
    nightOnWall.value ? "night" : chosen.value === "system" ? (dark.value ? "night" : "light") : chosen.value,
  );
  watchEffect(() => (document.documentElement.dataset.palette = palette.value));
  return { palette, toggle: () => (chosen.value = palette.value === "night" ? "light" : "night") };
}
