<script setup lang="ts">
/** Codes that belong to no probe yet: named by warming one in the hand, where the node tells temperatures with its scan, or by plugging in one after another. */
import { useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { api, answer, type NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";

const props = defineProps<{ node: NodeDesign; codes: { hex: string }[] }>();
const site = useSite();
const since = ref<number>();
const query = useQuery({
  queryKey: ["warming", site.key, computed(() => props.node.key), since],
  refetchInterval: 1500,
  placeholderData: (old) => old,
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/nodes/{node}/warming", {
        params: { path: { site: site.key.value, node: props.node.key }, query: { since: since.value } },
      }),
    ),
});
const probes = computed(() => {
  const wire =
    site
      .nodePlan(props.node.key)
      ?.bench.parts.filter((p) => p.interface === "oneWire")
      .map((p) => p.part) ?? [];
  return props.node.parts.filter((p) => wire.includes(p.key) && !p.rom);
});
const heat = (hex: string) => query.data.value?.heats.find((h) => h.rom === hex);
const warmed = computed(() => props.codes.find((c) => c.hex === query.data.value?.warmed)?.hex);
/** While one is warmed only that one is asked for. */
const asked = computed(() => (since.value && warmed.value ? props.codes.filter((c) => c.hex === warmed.value) : props.codes));
const tells = computed(() => (query.data.value?.heats.length ?? 0) > 0);
watch(
  () => props.node.key,
  () => (since.value = undefined),
);

async function name(key: string, rom: string) {
  const part = props.node.parts.find((p) => p.key === key)!;
  await site.apply(`${part.label} is ${rom.slice(0, 2)}-${rom.slice(2)}`, [
    { kind: "putPart", node: props.node.key, part: { ...part, rom } },
  ]);
  // The next one begins from what all show now.
  if (since.value) since.value = query.data.value?.nowMs;
}
</script>

<template>
  <section class="mt-5 max-w-2xl" data-probes>
    <h3 class="font-semibold">Which probe is it?</h3>
    <div v-if="tells && probes.length" class="my-2 flex flex-wrap items-center gap-3">
      <template v-if="since">
        <span v-if="warmed" class="text-lg font-semibold" role="status">This one is warm: which is it?</span>
        <span v-else class="text-lg" role="status">Hold one probe in your hand…</span>
        <AppButton small @click="since = undefined">Leave it</AppButton>
      </template>
      <AppButton v-else class="min-h-11" @click="since = query.data.value?.nowMs">Name them by warming one</AppButton>
    </div>
    <p v-else class="mb-2 text-sm text-faint">
      Plug in one probe more, scan, and name the new code; it stands first. A scan that tells temperatures beside the codes lets
      you warm one in the hand instead.
    </p>
    <p v-if="!probes.length">Every planned probe has its code. Take a code off a part at the Bench when the probe was changed.</p>
    <ul v-else class="flex flex-col gap-3">
      <li v-for="c in asked" :key="c.hex">
        <p class="mono mb-1 flex flex-wrap gap-x-3 break-all">
          {{ c.hex.slice(0, 2) }}-{{ c.hex.slice(2) }}
          <template v-if="heat(c.hex)">
            <span>{{ heat(c.hex)!.celsius.toFixed(2) }} °C</span>
            <span v-if="since" :class="c.hex === warmed ? 'font-semibold text-moss' : 'text-faint'"
              >{{ heat(c.hex)!.riseKelvin >= 0 ? "+" : "−" }}{{ Math.abs(heat(c.hex)!.riseKelvin).toFixed(1) }} K</span
            >
          </template>
        </p>
        <div v-if="!since || c.hex === warmed" class="flex flex-wrap gap-2" role="group" :aria-label="`Which probe is ${c.hex}`">
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
