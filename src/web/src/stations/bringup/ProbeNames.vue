<script setup lang="ts">
/** Codes that belong to no probe yet: plug in one after another, and say which it is. The one just plugged in stands first. */
import { computed } from "vue";
import type { NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";

const props = defineProps<{ node: NodeDesign; codes: { hex: string }[] }>();
const site = useSite();
const probes = computed(() => {
  const wire =
    site
      .nodePlan(props.node.key)
      ?.bench.parts.filter((p) => p.interface === "oneWire")
      .map((p) => p.part) ?? [];
  return props.node.parts.filter((p) => wire.includes(p.key) && !p.rom);
});

async function name(key: string, rom: string) {
  const part = props.node.parts.find((p) => p.key === key)!;
  await site.apply(`${part.label} is ${rom.slice(0, 2)}-${rom.slice(2)}`, [
    { kind: "putPart", node: props.node.key, part: { ...part, rom } },
  ]);
}
</script>

<template>
  <section class="mt-5 max-w-2xl">
    <h3 class="font-semibold">Which probe is it?</h3>
    <p class="mb-2 text-sm text-faint">Plug in one probe more, scan, and name the new code; it stands first.</p>
    <p v-if="!probes.length">Every planned probe has its code. Take a code off a part at the Bench when the probe was changed.</p>
    <ul v-else class="flex flex-col gap-3">
      <li v-for="c in codes" :key="c.hex">
        <p class="mono mb-1 break-all">{{ c.hex.slice(0, 2) }}-{{ c.hex.slice(2) }}</p>
        <div class="flex flex-wrap gap-2" role="group" :aria-label="`Which probe is ${c.hex}`">
          <AppButton
            v-for="p in probes"
            :key="p.key"
            class="min-h-11"
            :disabled="!site.canWrite.value || site.busy.value"
            @click="name(p.key, c.hex)"
            >{{ p.label }}</AppButton
          >
        </div>
      </li>
    </ul>
  </section>
</template>
