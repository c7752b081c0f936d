<script setup lang="ts">
/** What a maker decides about one part; what is left open the planner chooses. */
import { computed, ref } from "vue";
import type { NodeDesign, PartInstance } from "@/api/client";
import { useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import TextField from "@/kit/TextField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import type { Fault } from "@/kit/faults";
import PartFacts from "./PartFacts.vue";

const props = defineProps<{ node: NodeDesign; part: PartInstance }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const form = ref<PartInstance>({ ...props.part });
const rom = ref(props.part.rom ?? "");
const faults = ref<Fault[]>([]);
/** What can differ from the catalogue's part, with what that has. */
type Variant = NonNullable<PartInstance["variant"]>;
const differs = computed(() => {
  const resistive = facts.value?.interfaces.map((i) => i.resistive).find((r) => r);
  const fields: { key: keyof Variant; label: string; usual: number | null | undefined }[] = [];
  if (resistive?.law === "beta")
    fields.push(
      { key: "nominalOhms", label: "Resistance at 25 °C, Ω", usual: resistive.nominalOhms },
      { key: "beta", label: "Beta, K", usual: resistive.beta },
    );
  else if (resistive)
    fields.push(
      { key: "lowOhms", label: "Least resistance, Ω", usual: resistive.lowOhms },
      { key: "highOhms", label: "Greatest resistance, Ω", usual: resistive.highOhms },
    );
  if (facts.value?.leds) fields.push({ key: "leds", label: "LEDs on the strip", usual: facts.value.leds });
  if (facts.value?.opto) fields.push({ key: "inputVolts", label: "Voltage of what drives its input, V", usual: 12 });
  return fields;
});
const variant = ref<Partial<Record<keyof Variant, number | string>>>(
  Object.fromEntries(Object.entries(props.part.variant ?? {}).filter(([, v]) => v !== null)),
);
const variantOf = (): Variant | null => {
  const set = differs.value
    .map((f) => [f.key, variant.value[f.key]] as const)
    .filter(([, v]) => v !== undefined && v !== null && v !== "");
  return set.length ? (Object.fromEntries(set.map(([k, v]) => [k, Number(v)])) as Variant) : null;
};
const facts = computed(() => site.catalogue.value?.parts.find((p) => p.id === props.part.part));
const interfaces = computed(() => [
  { value: null as PartInstance["interface"], label: "the planner chooses" },
  ...(facts.value?.interfaces ?? []).map((i) => ({ value: i.kind as PartInstance["interface"], label: i.label })),
]);
const addresses = computed(() => [
  { value: null as number | null, label: "the planner chooses" },
  ...(facts.value?.interfaces.flatMap((i) => i.addresses ?? []) ?? []).map((a) => ({
    value: a.address as number | null,
    label: `0x${a.address.toString(16)}, ${a.strap}`,
  })),
]);
const isBarrier = computed(() => facts.value?.quantities.some((q) => q.quantity === "beam"));
const spots = computed(() => [
  { value: null as string | null, label: "not said" },
  ...(site.design.value?.place.spots ?? []).map((s) => ({ value: s.key as string | null, label: s.label })),
]);
const bits = computed(() => [
  { value: null as number | null, label: "as it comes" },
  ...Object.entries(facts.value?.conversionByBits ?? {}).map(([b, ms]) => ({
    value: Number(b) as number | null,
    label: `${b} bits, ${ms} ms`,
  })),
]);

async function save() {
  faults.value = [];
  const done = await site.apply(
    `${form.value.label} changed`,
    [
      {
        kind: "putPart",
        node: props.node.key,
        part: { ...form.value, rom: rom.value.trim() || null, variant: variantOf(), leadMetres: Number(form.value.leadMetres) },
      },
    ],
    true,
  );
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm :title="part.label" save="Save" :busy="site.busy.value" :faults="faults" @close="$emit('close')" @save="save">
    <TextField v-model="form.label" label="Name" field="part.label" />
    <FormField v-if="interfaces.length > 2" v-slot="{ id }" label="Connected by"
      ><SelectBox :id="id" v-model="form.interface" :options="interfaces" label="Connected by"
    /></FormField>
    <FormField v-if="addresses.length > 1" v-slot="{ id }" label="Address"
      ><SelectBox :id="id" v-model="form.address" :options="addresses" label="Address"
    /></FormField>
    <FormField v-if="bits.length > 1" v-slot="{ id }" label="Resolution"
      ><SelectBox :id="id" v-model="form.bits" :options="bits" label="Resolution"
    /></FormField>
    <TextField
      v-if="facts?.interfaces.some((i) => i.kind === 'oneWire')"
      v-model="rom"
      label="Its 1-Wire code"
      field="part.rom"
      mono
      hint="Empty until it is named at Bring-up."
    />
    <TextField
      v-for="f in differs"
      :key="f.key"
      v-model="variant[f.key]"
      :label="f.label"
      :field="`part.variant.${f.key}`"
      number
      :hint="`Empty for the usual ${f.usual}.`"
    />
    <FormField
      v-if="isBarrier"
      v-slot="{ id }"
      label="Its emitter hangs at"
      hint="The receiver hangs with the node; Place looks whether the light gets there."
      ><SelectBox :id="id" v-model="form.emitterSpot" :options="spots" label="Its emitter hangs at"
    /></FormField>
    <TextField v-model="form.leadMetres" label="Length of its lead, m" field="part.leadMetres" number />
    <label class="flex min-h-9 items-center gap-2"
      ><input v-model="form.switchSupply" type="checkbox" class="size-4" /> Switch its supply off between readings (a transistor
      and one more pin)</label
    >
    <details v-if="facts" class="border-t border-rule pt-2 text-sm">
      <summary class="cursor-pointer text-act">Facts, cautions and where they come from</summary>
      <PartFacts :part="facts" class="mt-2" />
    </details>
  </DialogForm>
</template>
