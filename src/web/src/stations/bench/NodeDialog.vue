<script setup lang="ts">
/** What a node is: its name, spot, board, supply, radio, and whether it sleeps. */
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import type { NodeDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import TextField from "@/kit/TextField.vue";
import SelectBox from "@/kit/SelectBox.vue";

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
  stepUp: n?.power.stepUp ?? false,
  link: n?.link ?? ("wifi" as NodeDesign["link"]),
  sleeps: n?.sleeps ?? false,
  measuresSupply: n?.measuresSupply ?? false,
});
const fault = ref("");
const boards = computed(() => (site.catalogue.value?.boards ?? []).map((b) => ({ value: b.id, label: b.label })));
const spots = computed(() => [
  { value: null as string | null, label: "no spot yet" },
  ...site.design.value!.place.spots.map((s) => ({ value: s.key as string | null, label: s.label })),
]);
const supplies = computed(() => [
  { value: "usb", label: "USB" },
  { value: "fiveVolt", label: "5 V supply of 1 A" },
  ...(site.catalogue.value?.cells ?? []).map((c) => ({ value: `cells:${c.id}`, label: c.label })),
]);
const onCells = computed(() => form.value.supply.startsWith("cells:"));

async function save() {
  const f = form.value;
  const power: NodeDesign["power"] = onCells.value
    ? { kind: "cells", cell: f.supply.slice(6), parallel: Number(f.parallel), stepUp: f.stepUp }
    : { kind: f.supply as "usb" | "fiveVolt", cell: null, parallel: 1, stepUp: false };
  const what = {
    label: f.label.trim(),
    spot: f.spot,
    board: f.board,
    power,
    link: f.link,
    sleeps: f.sleeps,
    measuresSupply: onCells.value && f.measuresSupply,
  };
  const key =
    n?.key ??
    keyFrom(
      f.label,
      site.design.value!.nodes.map((i) => i.key),
    );
  const done = n
    ? await site.apply(`${what.label} changed`, [{ kind: "setNode", node: key, ...what }], true)
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
            { value: 'longRange', label: 'its long-range radio' },
          ]"
          label="Sends by"
      /></FormField>
    </div>
    <template v-if="onCells">
      <TextField v-model="form.parallel" label="Cells side by side" number min="1" max="20" />
      <label class="flex min-h-9 items-center gap-2"
        ><input v-model="form.stepUp" type="checkbox" class="size-4" /> Step-up converter to 5 V</label
      >
      <label class="flex min-h-9 items-center gap-2"
        ><input v-model="form.measuresSupply" type="checkbox" class="size-4" /> It measures its own cell</label
      >
    </template>
    <label class="flex min-h-9 items-center gap-2"
      ><input v-model="form.sleeps" type="checkbox" class="size-4" /> It sleeps between readings</label
    >
  </DialogForm>
</template>
