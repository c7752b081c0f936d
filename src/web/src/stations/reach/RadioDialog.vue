<script setup lang="ts">
/** How the radios of a node are set, and the one that hears it. What both ends need alike is given to all radios of the channel. */
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, ref, useTemplateRef, watch } from "vue";
import { answer, api, type RadioDesign, type RadioPlace } from "@/api/client";
import { useSite } from "@/app/site";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";
import { setRadio } from "../bench/node-edits";

const props = defineProps<{ node: string; label: string }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const radios = useQuery({
  queryKey: ["radios", site.key, computed(() => site.site.value?.revision), props.node],
  queryFn: ({ signal }) =>
    answer(
      api.GET("/api/sites/{site}/nodes/{node}/radios", { params: { path: { site: site.key.value, node: props.node } }, signal }),
    ),
});
const chosen = ref(0);
const sheets = computed(() => radios.data.value ?? []);
const sheet = computed(() => sheets.value[chosen.value]);
const choices = computed(() =>
  sheets.value.map((s, value) => ({ value, label: `${s.radio.label}: ${s.radio.name}${s.hears ? ", which hears it" : ""}` })),
);
const usual = computed(() => sheet.value?.usual);
const lora = computed(() => !!usual.value && !usual.value.bitsPerSecond);
/** Where its settings stand in the edit. */
const at = (field: string) => `${sheet.value?.radio.part == null ? "" : "part."}radio.${field}`;
const shared = [
  "frequencyMegahertz",
  "spreadingFactor",
  "bandwidthKilohertz",
  "codingRate",
  "bitsPerSecond",
  "hopChannels",
] as const;
const alone = ["powerDbm", "antennaGainDbi"] as const;
type Field = (typeof shared)[number] | (typeof alone)[number];
const form = ref({} as Record<Field, number | "">);
const flat = ref(false);
const faults = ref<Fault[]>([]);
watch(
  () => sheet.value?.radio,
  (radio, before) => {
    // What another changed meanwhile does not take away what is typed here.
    if (!radio || (before && before.node === radio.node && before.name === radio.name)) return;
    form.value = Object.fromEntries([...shared, ...alone].map((f) => [f, radio.set?.[f] ?? ""])) as Record<Field, number | "">;
    flat.value = radio.set?.antennaFlat === true;
  },
  { immediate: true },
);
const fields = useTemplateRef("fields");
/** What is asked for is there only now: the first field has the keys then, not the buttons below. */
watch(sheets, async (_, before) => {
  if (before.length) return;
  await nextTick();
  fields.value?.querySelector<HTMLElement>("button, input")?.focus();
});
const usually = (n: number | null | undefined, unit: string) =>
  n === null || n === undefined ? "" : `Usual: ${n} ${unit}`.trim();
const powers = computed(() => {
  const power = usual.value?.powerDbm;
  if (!sheet.value?.radio.part && !sheet.value?.isTunable) return "Empty: the usual of the board.";
  const range = power?.min != null && power.max != null ? ` It gives ${power.min} to ${power.max}.` : "";
  return `${usually(power?.typ, "dBm")}.${range}`;
});
const typed = (fields: readonly Field[]) =>
  Object.fromEntries(fields.map((f) => [f, typeof form.value[f] === "number" ? form.value[f] : null])) as Partial<RadioDesign>;

async function save() {
  faults.value = [];
  const { radio, together, isTunable } = sheet.value!;
  const same = (t: RadioPlace) => t.node === radio.node && t.part === radio.part;
  const nodes = site.design.value!.nodes;
  const edits = [
    setRadio(nodes, radio, { ...(isTunable ? typed(shared) : {}), ...typed(alone), antennaFlat: flat.value || null }),
    ...together.filter((t) => !same(t)).map((t) => setRadio(nodes, t, typed(shared))),
  ];
  const done = await site.apply(`Radio of ${radio.label} set`, edits, true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="`Radio of ${label}`"
    save="Save"
    :busy="site.busy.value || !sheet"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <p v-if="radios.isPending.value" class="text-faint" role="status">Looking at its radios…</p>
    <p v-else-if="radios.error.value" class="text-stop" role="alert">{{ radios.error.value.message }}</p>
    <p v-else-if="!sheet" class="text-faint">It has no radio that could be set: add one at the Bench.</p>
    <div v-else ref="fields" class="flex flex-col gap-3">
      <FormField v-if="choices.length > 1" v-slot="{ id }" label="Which radio"
        ><SelectBox :id="id" v-model="chosen" :options="choices" label="Which radio"
      /></FormField>
      <div v-if="sheet.isTunable" class="grid gap-3 sm:grid-cols-2">
        <TextField
          v-model="form.frequencyMegahertz"
          label="Frequency, MHz"
          :field="at('frequencyMegahertz')"
          number
          :hint="usually(usual?.megahertz, 'MHz')"
        />
        <template v-if="lora">
          <TextField
            v-model="form.spreadingFactor"
            label="Spreading factor"
            :field="at('spreadingFactor')"
            number
            :hint="`${usually(usual?.spreadingFactor, '')}. One more: 2.5 dB further, twice the time.`"
          />
          <TextField
            v-model="form.bandwidthKilohertz"
            label="Bandwidth, kHz"
            :field="at('bandwidthKilohertz')"
            number
            :hint="usually(usual?.bandwidthKilohertz, 'kHz')"
          />
          <TextField
            v-model="form.codingRate"
            label="Coding rate, 4 of 4 +"
            :field="at('codingRate')"
            number
            :hint="usually(usual?.codingRate, '')"
          />
        </template>
        <TextField
          v-else
          v-model="form.bitsPerSecond"
          label="Rate on the air, bit/s"
          :field="at('bitsPerSecond')"
          number
          :hint="usually(usual?.bitsPerSecond, 'bit/s')"
        />
        <TextField
          v-model="form.hopChannels"
          label="Hops over, channels"
          :field="at('hopChannels')"
          number
          hint="Usual: one channel. Between 902 and 928 MHz the law allows more to radios that hop."
        />
      </div>
      <p v-if="sheet.isTunable" class="text-sm text-faint">
        All on its channel need these alike: they are set on {{ sheet.together.map((t) => t.label).join(", ") }}. Empty: as usual.
      </p>
      <div class="grid gap-3 sm:grid-cols-2">
        <TextField v-model="form.powerDbm" label="Power, dBm" :field="at('powerDbm')" number :hint="powers" />
        <TextField
          v-model="form.antennaGainDbi"
          label="Antenna, dBi"
          :field="at('antennaGainDbi')"
          number
          hint="Usual: 0 dBi. A short spring has -5 to -2, a half-wave dipole 2.15."
        />
      </div>
      <CheckBox
        v-model="flat"
        label="Its antenna lies flat"
        hint="Where the other end's stands upright, that takes 3 to 15 dB."
      />
      <p class="text-sm text-faint">
        Power and antenna are this radio's alone. The law of your region limits both; never transmit without an antenna.
      </p>
    </div>
  </DialogForm>
</template>
