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
import type { Fault } from "@/kit/faults";
import HousingField from "./HousingField.vue";
import { setNode } from "./node-edits";
import { supplyNames, traitsOf } from "./power";
import SendsByField from "./SendsByField.vue";

const props = defineProps<{ node?: NodeDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const router = useRouter();
const n = props.node;
const form = ref({
  label: n?.label ?? "",
  spot: n?.spot ?? (null as string | null),
  board: n?.board ?? "esp32-dev-38",
  supply: n ? (n.power.kind === "cells" ? `cells:${n.power.cell}` : n.power.kind) : "usb",
  parallel: n?.power.parallel ?? 1,
  series: n?.power.series ?? 1,
  fittedOn: n?.power.fittedOn ?? "",
  stepUp: n?.power.stepUp ?? false,
  link: n?.link ?? ("wifi" as NodeDesign["link"]),
  via: n?.via ?? (null as string | null),
  sleeps: n?.sleeps ?? false,
  measuresSupply: n?.measuresSupply ?? false,
  addsModules: n?.addsModules ?? true,
  correctsItself: n?.correctsItself ?? false,
  relays: n?.relays ?? false,
  housing: n?.housing ?? null,
});
const faults = ref<Fault[]>([]);
/** The path of a field in the edit. */
const at = (field: string) => (props.node ? field : `design.${field}`);
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
const traits = (link: NodeDesign["link"]) => traitsOf(link, site.usual.value);
const onCells = computed(() => form.value.supply.startsWith("cells:"));

/** The supply as the form says. A light cell stays where it still has something to fill. */
function powerOf(): PowerDesign {
  const f = form.value;
  const was: PowerDesign = n?.power ?? site.usual.value.power;
  // A rating, and that it is a vehicle's, are said of the supply that is left.
  const stays = onCells.value ? was.kind === "cells" : was.kind === f.supply;
  const base: PowerDesign = stays ? was : { ...was, ratedAmps: null, vehicle: false };
  const harvest = base.harvest ?? null;
  if (onCells.value) {
    const cells = {
      cell: f.supply.slice(6),
      parallel: Number(f.parallel),
      series: Number(f.series),
      fittedOn: f.fittedOn || null,
    };
    return { ...base, kind: "cells", ...cells, stepUp: f.stepUp, harvest: harvest && { ...harvest, capacitorMicrofarads: null } };
  }
  const kind = f.supply as PowerDesign["kind"];
  const none = { cell: null, parallel: 1, series: 1, fittedOn: null, charger: null };
  if (kind !== "capacitor") return { ...base, kind, ...none, stepUp: false, harvest: null };
  const stored = {
    ...(harvest ?? site.usual.value.harvest),
    capacitorMicrofarads: harvest?.capacitorMicrofarads ?? site.usual.value.capacitorMicrofarads,
  };
  return { ...base, kind, ...none, stepUp: f.stepUp, harvest: stored };
}

async function save() {
  const f = form.value;
  const power = powerOf();
  const what = {
    label: f.label.trim(),
    spot: f.spot,
    board: f.board,
    power,
    link: f.link,
    via: f.via,
    sleeps: f.sleeps,
    measuresSupply: onCells.value && f.measuresSupply,
    addsModules: f.addsModules,
    correctsItself: f.correctsItself,
    relays: traits(f.link).canRelay && f.relays,
    housing: f.housing,
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
    faults.value = done.faults;
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
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <TextField v-model="form.label" label="Name" :field="at('label')" />
    <div class="grid gap-3 sm:grid-cols-2">
      <FormField v-slot="{ id }" label="Board"
        ><SelectBox :id="id" v-model="form.board" :options="boards" label="Board"
      /></FormField>
      <FormField v-slot="{ id }" label="Spot"><SelectBox :id="id" v-model="form.spot" :options="spots" label="Spot" /></FormField>
      <FormField v-slot="{ id }" label="Supply" :field="at('power.cell')"
        ><SelectBox :id="id" v-model="form.supply" :options="supplies" label="Supply"
      /></FormField>
      <SendsByField v-model:link="form.link" v-model:via="form.via" :node="n?.key" :board="form.board" :via-field="at('via')" />
    </div>
    <HousingField v-model="form.housing" />
    <template v-if="onCells">
      <div class="grid gap-3 sm:grid-cols-3">
        <TextField v-model="form.parallel" label="Cells side by side" :field="at('power.parallel')" number min="1" max="20" />
        <TextField v-model="form.series" label="Cells in series" :field="at('power.series')" number min="1" max="10" />
        <TextField v-model="form.fittedOn" label="Put in on" type="date" />
      </div>
      <CheckBox v-model="form.stepUp" label="Step-up converter to 5 V" />
      <CheckBox v-model="form.measuresSupply" label="It measures its own cell" />
    </template>
    <CheckBox v-if="form.supply === 'capacitor'" v-model="form.stepUp" label="Step-up converter to 5 V" />
    <p v-if="form.supply === 'capacitor'" class="text-sm text-faint">
      Its light cell and its capacitor are set at Rhythm, under Light.
    </p>
    <CheckBox v-model="form.sleeps" label="It sleeps between readings" />
    <CheckBox
      v-if="traits(form.link).canRelay"
      v-model="form.relays"
      label="It passes on what other nodes send"
      hint="Its radio then listens all the time, asleep too: that empties cells soon. Rhythm shows how soon."
    />
    <CheckBox
      v-model="form.correctsItself"
      label="Its program applies calibrations and limits itself"
      hint="They hold without a network; a new one wants flashing. The server then takes its values as they come."
    />
    <CheckBox v-model="form.addsModules" label="The planner may add an expander, a multiplexer or a converter" />
  </DialogForm>
</template>
