<script setup lang="ts">
/** What a node is: its name, spot, board, supply, radio, box, and whether it sleeps. */
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import type { NodeDesign, PowerDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import TextField from "@/kit/TextField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import { setNode } from "./node-edits";
import { plainPower, supplyNames } from "./power";

const props = defineProps<{ node?: NodeDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const router = useRouter();
const n = props.node;
const housingOf = (h: NodeDesign["housing"]) => (h ? `${h.vented ? "vented" : h.sealed ? "sealed" : "closed"}` : "open");
const form = ref({
  label: n?.label ?? "",
  spot: n?.spot ?? (null as string | null),
  board: n?.board ?? "esp32-dev-38",
  supply: n ? (n.power.kind === "cells" ? `cells:${n.power.cell}` : n.power.kind) : "usb",
  parallel: n?.power.parallel ?? 1,
  stepUp: n?.power.stepUp ?? false,
  link: n?.link ?? ("wifi" as NodeDesign["link"]),
  sleeps: n?.sleeps ?? false,
  measuresSupply: n?.measuresSupply ?? false,
  addsModules: n?.addsModules ?? true,
  housing: housingOf(n?.housing),
  clearLid: n?.housing?.clearLid ?? false,
});
const fault = ref("");
const boards = computed(() => (site.catalogue.value?.boards ?? []).map((b) => ({ value: b.id, label: b.label })));
const spots = computed(() => [
  { value: null as string | null, label: "no spot yet" },
  ...site.design.value!.place.spots.map((s) => ({ value: s.key as string | null, label: s.label })),
]);
const supplies = computed(() => [
  ...Object.entries(supplyNames)
    .filter(([k]) => k !== "cells")
    .map(([value, label]) => ({ value, label })),
  ...(site.catalogue.value?.cells ?? []).map((c) => ({ value: `cells:${c.id}`, label: c.label })),
]);
const housings = [
  { value: "open", label: "open, no box" },
  { value: "vented", label: "vented box" },
  { value: "closed", label: "closed box" },
  { value: "sealed", label: "sealed box" },
];
const onCells = computed(() => form.value.supply.startsWith("cells:"));

async function save() {
  const f = form.value;
  const base: PowerDesign = n?.power ?? plainPower;
  const power: PowerDesign = onCells.value
    ? { ...base, kind: "cells", cell: f.supply.slice(6), parallel: Number(f.parallel), stepUp: f.stepUp }
    : { ...base, kind: f.supply as PowerDesign["kind"], cell: null, parallel: 1, stepUp: false, charger: null };
  const what = {
    label: f.label.trim(),
    spot: f.spot,
    board: f.board,
    power,
    link: f.link,
    sleeps: f.sleeps,
    measuresSupply: onCells.value && f.measuresSupply,
    addsModules: f.addsModules,
    housing:
      f.housing === "open" ? null : { vented: f.housing === "vented", sealed: f.housing === "sealed", clearLid: f.clearLid },
  };
  const key =
    n?.key ??
    keyFrom(
      f.label,
      site.design.value!.nodes.map((i) => i.key),
    );
  const done = n
    ? await site.apply(`${what.label} changed`, [setNode(n, what)], true)
    : await site.apply(
        `${what.label} added`,
        [{ kind: "putNode", design: { key, ...what, parts: [], wires: [], readings: [] } }],
        true,
      );
  if (!done.ok) {
    fault.value = done.reasons.join(" ");
    return;
  }
  emit("close");
  if (!n) await router.push(`/${site.key.value}/bench/${key}`);
}
</script>

<template>
  <DialogForm
    :title="node ? node.label : 'New node'"
    :save="node ? 'Save' : 'Add the node'"
    :busy="site.busy.value"
    @close="$emit('close')"
    @save="save"
  >
    <TextField v-model="form.label" label="Name" :fault="fault" />
    <div class="grid gap-3 sm:grid-cols-2">
      <FormField v-slot="{ id }" label="Board"
        ><SelectBox :id="id" v-model="form.board" :options="boards" label="Board"
      /></FormField>
      <FormField v-slot="{ id }" label="Spot"><SelectBox :id="id" v-model="form.spot" :options="spots" label="Spot" /></FormField>
      <FormField v-slot="{ id }" label="Supply"
        ><SelectBox :id="id" v-model="form.supply" :options="supplies" label="Supply"
      /></FormField>
      <FormField v-slot="{ id }" label="Sends by"
        ><SelectBox
          :id="id"
          v-model="form.link"
          :options="[
            { value: 'wifi', label: 'Wi-Fi' },
            { value: 'longRange', label: 'its own radio or cable' },
          ]"
          label="Sends by"
      /></FormField>
      <FormField v-slot="{ id }" label="Box"
        ><SelectBox :id="id" v-model="form.housing" :options="housings" label="Box"
      /></FormField>
    </div>
    <CheckBox v-if="form.housing !== 'open'" v-model="form.clearLid" label="Its lid lets light in" />
    <template v-if="onCells">
      <TextField v-model="form.parallel" label="Cells side by side" number min="1" max="20" />
      <CheckBox v-model="form.stepUp" label="Step-up converter to 5 V" />
      <CheckBox v-model="form.measuresSupply" label="It measures its own cell" />
    </template>
    <CheckBox v-model="form.sleeps" label="It sleeps between readings" />
    <CheckBox v-model="form.addsModules" label="The planner may add an expander, a multiplexer or a converter" />
  </DialogForm>
</template>
