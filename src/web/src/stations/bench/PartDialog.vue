<script setup lang="ts">
/** Search for a part, or say what to know and be answered with parts ranked; one click places one, or several are collected and placed together. */
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, sentence, type NodeDesign, type PartAnswer, type PlacedParts } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";
import CheckBox from "@/kit/CheckBox.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import PartsTray from "./PartsTray.vue";

const props = defineProps<{ node: NodeDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const query = ref("");
const fault = ref("");
const wishing = ref(false);
const parts = computed(() => (site.catalogue.value?.parts ?? []).filter((p) => p.interfaces.length));
const found = computed(() =>
  parts.value.filter((p) =>
    `${p.id} ${p.label} ${p.quantities.map((q) => q.quantity).join(" ")} ${(p.uses ?? []).join(" ")}`
      .toLowerCase()
      .includes(query.value.toLowerCase()),
  ),
);
const quantities = computed(() =>
  [...new Set(parts.value.flatMap((p) => p.quantities.map((q) => q.quantity)))].sort().map((q) => ({ value: q, label: q })),
);
const wish = ref({
  quantity: "temperature",
  min: undefined as number | undefined,
  max: undefined as number | undefined,
  error: undefined as number | undefined,
  late: undefined as number | undefined,
  onCells: props.node.power.kind === "cells",
});
const unit = computed(() => parts.value.flatMap((p) => p.quantities).find((q) => q.quantity === wish.value.quantity)?.unit ?? "");
const number = (v: unknown) => (typeof v === "number" && Number.isFinite(v) ? v : undefined);
const answers = useQuery({
  queryKey: ["wish", site.key, computed(() => props.node.key), wish, computed(() => site.site.value?.revision)],
  enabled: wishing,
  placeholderData: (old: PartAnswer[] | undefined) => old,
  queryFn: async () => {
    const w = wish.value;
    const late = number(w.late);
    return answer(
      api.GET("/api/sites/{site}/nodes/{node}/wishes", {
        params: {
          path: { site: site.key.value, node: props.node.key },
          query: {
            quantity: w.quantity,
            min: number(w.min),
            max: number(w.max),
            error: number(w.error),
            lateMs: late === undefined ? undefined : late * 1000,
            onCells: w.onCells,
          },
        },
      }),
    );
  },
});

/** Catalogue ids that were collected, one as often as it is wanted. */
const tray = ref<string[]>([]);
const often = (id: string) => tray.value.filter((p) => p === id).length;
const collect = (id: string) => (tray.value = [...tray.value, id]);
function putBack(id: string) {
  const at = tray.value.lastIndexOf(id);
  tray.value = tray.value.filter((_, i) => i !== at);
}

async function placeAll(placed: PlacedParts) {
  const done = await site.apply(`${placed.label} placed`, placed.edits);
  if (done.ok) emit("close");
  else fault.value = done.reasons.join(" ");
}
/** Places a part at once; while others are collected it is collected too. */
async function place(id: string) {
  if (tray.value.length) return void collect(id);
  const { data, error } = await api.GET("/api/sites/{site}/nodes/{node}/placing", {
    params: { path: { site: site.key.value, node: props.node.key }, query: { part: [id] } },
  });
  if (data) await placeAll(data);
  else fault.value = sentence(error);
}
</script>

<template>
  <AppDialog open wide title="Add a part" @close="$emit('close')">
    <div class="mb-3 flex gap-2" role="group" aria-label="How to find a part">
      <AppButton small :kind="wishing ? 'plain' : 'lead'" :aria-pressed="!wishing" @click="wishing = false">Search</AppButton>
      <AppButton small :kind="wishing ? 'lead' : 'plain'" :aria-pressed="wishing" @click="wishing = true"
        >Say what you want to know</AppButton
      >
    </div>
    <p v-if="fault" class="mb-2 text-sm text-stop" role="alert">{{ fault }}</p>
    <template v-if="!wishing">
      <input
        v-model="query"
        class="field mb-2 w-full"
        placeholder="What to measure, or a part number"
        aria-label="Search the parts"
      />
      <ul class="max-h-[60vh] divide-y divide-rule overflow-y-auto border-y border-rule">
        <li v-for="p in found" :key="p.id" class="flex items-stretch" :class="often(p.id) ? 'bg-paper' : ''">
          <button
            type="button"
            class="flex min-w-0 flex-1 flex-col gap-0.5 px-2 py-2 text-left hover:bg-paper"
            :disabled="site.busy.value"
            @click="place(p.id)"
          >
            <span class="font-semibold">{{ p.label }}</span>
            <span v-for="q in p.quantities" :key="q.quantity" class="text-sm text-faint">{{ q.quantity }}: {{ q.accuracy }}</span>
            <span v-if="p.quantities.length === 0" class="text-sm text-faint">{{ p.needs.join("; ") }}</span>
          </button>
          <span class="flex shrink-0 items-center gap-1 px-1">
            <template v-if="often(p.id)">
              <AppButton kind="bare" class="min-h-11 min-w-11" :aria-label="`One ${p.label} less`" @click="putBack(p.id)"
                >−</AppButton
              >
              <span class="mono">{{ often(p.id) }}</span>
            </template>
            <AppButton kind="bare" class="min-h-11 min-w-11" :aria-label="`Collect ${p.label}`" @click="collect(p.id)"
              >+</AppButton
            >
          </span>
        </li>
        <li v-if="!found.length" class="p-3 text-faint">No part in the catalogue has that in its name or measures it.</li>
      </ul>
    </template>
    <template v-else>
      <div class="mb-2 grid grid-cols-2 items-end gap-2 sm:grid-cols-5">
        <FormField v-slot="{ id }" label="Quantity" class="col-span-2 sm:col-span-1"
          ><SelectBox :id="id" v-model="wish.quantity" :options="quantities" label="Quantity"
        /></FormField>
        <TextField v-model="wish.min" :label="`From ${unit}`" number />
        <TextField v-model="wish.max" :label="`To ${unit}`" number />
        <TextField v-model="wish.error" :label="`Good to ± ${unit}`" number min="0" />
        <TextField v-model="wish.late" label="Within, s" number min="0" />
      </div>
      <CheckBox v-model="wish.onCells" label="The node runs on cells" />
      <p v-if="answers.error.value" class="text-stop" role="alert">{{ answers.error.value.message }}</p>
      <ul class="max-h-[50vh] divide-y divide-rule overflow-y-auto border-y border-rule">
        <li v-for="a in answers.data.value ?? []" :key="a.part" class="flex items-start justify-between gap-3 px-2 py-2">
          <div>
            <span class="font-semibold" :class="a.fits ? '' : 'text-faint'">{{ a.label }}</span>
            <p class="text-sm text-faint">{{ a.fits ? a.reasons.join("; ") : a.exclusions.join(" ") }}</p>
          </div>
          <AppButton v-if="a.fits" small :disabled="site.busy.value" :aria-label="`Place ${a.label}`" @click="place(a.part)"
            >Place</AppButton
          >
          <span v-else class="shrink-0 text-sm text-faint">not for this</span>
        </li>
      </ul>
    </template>
    <PartsTray v-if="tray.length" :node="node" :parts="tray" @place="placeAll" @clear="tray = []" />
  </AppDialog>
</template>
