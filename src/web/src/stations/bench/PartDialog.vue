<script setup lang="ts">
/** The parts tray: search, choose, and the part is placed with readings for what it measures. */
import { computed, ref } from "vue";
import type { DesignEdit, NodeDesign, Part } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import AppDialog from "@/kit/AppDialog.vue";

const props = defineProps<{ node: NodeDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const query = ref("");
const fault = ref("");
const found = computed(() =>
  (site.catalogue.value?.parts ?? []).filter((p) =>
    `${p.id} ${p.label} ${p.quantities.map((q) => q.quantity).join(" ")}`.toLowerCase().includes(query.value.toLowerCase()),
  ),
);
const names: Record<string, string> = {
  temperature: "temperature",
  humidity: "humidity",
  pressure: "pressure",
  illuminance: "light",
  motion: "motion",
  presence: "presence",
  contact: "contact",
  distance: "distance",
  relay: "relay",
};

async function place(part: Part) {
  const taken = props.node.parts.map((p) => p.key);
  const key = keyFrom(part.id.split("-")[0]!, taken);
  const short = part.label.split(":")[0]!;
  const label = taken.includes(part.id.split("-")[0]!) ? `${short} ${key.split("-").at(-1)}` : short;
  const edits: DesignEdit[] = [
    {
      kind: "putPart",
      node: props.node.key,
      part: { key, label, part: part.id, interface: null, address: null, leadMetres: 0.2, switchSupply: false, bits: null },
    },
  ];
  const used = props.node.readings.map((r) => r.key);
  for (const q of part.interfaces[0]?.quantities
    ? part.quantities.filter((i) => part.interfaces[0]!.quantities!.includes(i.quantity))
    : part.quantities) {
    const reading = keyFrom(`${key}-${names[q.quantity] ?? q.quantity}`, used);
    used.push(reading);
    const gauge = q.kind === "gauge";
    edits.push({
      kind: "putReading",
      node: props.node.key,
      reading: {
        key: reading,
        label: `${label} ${names[q.quantity] ?? q.quantity}`.slice(0, 60),
        part: key,
        quantity: q.quantity,
        intervalMs: gauge ? 60000 : null,
        heartbeatMs: gauge ? null : 600000,
        decimals: q.resolution && q.resolution < 0.5 ? 1 : 0,
      },
    });
  }
  const done = await site.apply(`${label} placed`, edits);
  if (done.ok) emit("close");
  else fault.value = done.reasons.join(" ");
}
</script>

<template>
  <AppDialog open wide title="Add a part" @close="$emit('close')">
    <input
      v-model="query"
      class="field mb-2 w-full"
      placeholder="What to measure, or a part number"
      aria-label="Search the parts"
    />
    <p v-if="fault" class="mb-2 text-sm text-stop" role="alert">{{ fault }}</p>
    <ul class="max-h-[60vh] divide-y divide-rule overflow-y-auto border-y border-rule">
      <li v-for="p in found" :key="p.id">
        <button
          type="button"
          class="flex w-full flex-col gap-0.5 px-2 py-2 text-left hover:bg-paper"
          :disabled="site.busy.value"
          @click="place(p)"
        >
          <span class="font-semibold">{{ p.label }}</span>
          <span v-for="q in p.quantities" :key="q.quantity" class="text-sm text-faint">{{ q.quantity }}: {{ q.accuracy }}</span>
          <span v-if="p.quantities.length === 0" class="text-sm text-faint">{{ p.needs.join("; ") }}</span>
        </button>
      </li>
      <li v-if="!found.length" class="p-3 text-faint">No part in the catalogue has that in its name or measures it.</li>
    </ul>
  </AppDialog>
</template>
