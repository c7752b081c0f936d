<script setup lang="ts">
/** Parts that were collected for a node, what they would take of it, and the button that places all of them. */
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, answer, type NodeDesign, type PlacedParts } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { number } from "@/kit/format";

const props = defineProps<{ node: NodeDesign; parts: string[] }>();
const emit = defineEmits<{ place: [placed: PlacedParts]; clear: [] }>();
const site = useSite();
const tried = useQuery({
  queryKey: ["placing", site.key, computed(() => props.node.key), computed(() => props.parts), site.revision],
  placeholderData: (old: PlacedParts | undefined) => old,
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/nodes/{node}/placing", {
        params: { path: { site: site.key.value, node: props.node.key }, query: { part: props.parts, tried: true } },
      }),
    ),
});
const then = computed(() => tried.data.value?.then);
const waits = computed(() => tried.isFetching.value || tried.isPlaceholderData.value);
const count = (n: number, one: string, many = one + "s") => `${n} ${n === 1 ? one : many}`;
</script>

<template>
  <section
    class="sticky bottom-0 mt-2 flex flex-wrap items-center justify-between gap-x-4 gap-y-2 border border-act bg-sheet p-2"
    aria-label="Collected parts"
    data-tray
  >
    <p class="min-w-0 flex-1 basis-64" role="status">
      <strong>{{ tried.data.value?.label ?? count(parts.length, "part") }}</strong>
      <span v-if="tried.error.value" class="block text-sm text-stop">{{ tried.error.value.message }}</span>
      <span v-else-if="!then" class="block text-sm text-faint">Working out what they take…</span>
      <span v-else class="block text-sm" :class="waits ? 'text-faint' : ''">
        <SeverityMark :severity="then.fits ? 'fine' : 'stop'" />
        {{ then.fits ? `Fits: ${count(then.wires, "wire")}, ${count(then.pinsLeft, "pin")} left` : then.why
        }}<template v-if="then.modules.length">, with {{ then.modules.join(", ") }} added</template
        ><template v-if="then.price !== null">; the parts cost {{ number(then.price) }} by your stock list</template
        ><template v-if="then.price !== null && then.unpriced"> without {{ count(then.unpriced, "part") }}</template>
      </span>
    </p>
    <span class="flex gap-2">
      <AppButton small @click="$emit('clear')">Clear</AppButton>
      <AppButton
        kind="lead"
        :disabled="!tried.data.value || waits || site.busy.value"
        @click="tried.data.value && emit('place', tried.data.value)"
        >Place {{ count(parts.length, "part") }}</AppButton
      >
    </span>
  </section>
</template>
