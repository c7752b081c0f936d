<script setup lang="ts">
/** The site itself: its name, where it is in time and radio rules, and how long measurements are kept. */
import { computed, ref, watch } from "vue";
import { useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";
import OwnBands from "./OwnBands.vue";
import { emptyBand, read, typed } from "./own-bands";

const emit = defineEmits<{ close: [] }>();
const site = useSite();
const settings = computed(() => site.design.value!.settings);
const form = ref({
  name: settings.value.name,
  timeZone: settings.value.timeZone,
  region: settings.value.region,
  samples: (settings.value.keeping?.sampleDays ?? "") as number | "",
  minutes: (settings.value.keeping?.minuteDays ?? "") as number | "",
  bands: (settings.value.ownBands ?? []).map(typed),
});
watch(
  () => form.value.region,
  (region) => {
    if (region === "own" && form.value.bands.length === 0) form.value.bands.push(emptyBand());
  },
);
const faults = ref<Fault[]>([]);
const regions = [
  { value: "unset" as const, label: "not said yet" },
  { value: "europe868" as const, label: "Europe, 868 MHz" },
  { value: "america915" as const, label: "America, 915 MHz" },
  { value: "own" as const, label: "another: I type its bands" },
];
const days = (n: number | "" | undefined) => (typeof n === "number" ? n : null);

async function save() {
  faults.value = [];
  const [sampleDays, minuteDays] = [days(form.value.samples), days(form.value.minutes)];
  const keeping = sampleDays === null && minuteDays === null ? null : { sampleDays, minuteDays };
  const { name, timeZone, region } = form.value;
  const ownBands = region === "own" ? read(form.value.bands) : settings.value.ownBands;
  if (region === "own" && !ownBands) {
    faults.value = [{ says: "A band needs its beginning, its end and its highest power." }];
    return;
  }
  const done = await site.apply(
    "Site changed",
    [{ kind: "setSite", settings: { name: name.trim(), timeZone: timeZone.trim(), region, keeping, ownBands } }],
    true,
  );
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    title="Site"
    save="Save"
    :busy="site.busy.value"
    :faults="faults"
    :wide="form.region === 'own'"
    @close="$emit('close')"
    @save="save"
  >
    <TextField v-model="form.name" label="Name" field="settings.name" />
    <div class="grid gap-3 sm:grid-cols-2">
      <TextField v-model="form.timeZone" label="Time zone" field="settings.timeZone" hint="Like Europe/London." />
      <FormField v-slot="{ id }" label="Radio rules"
        ><SelectBox :id="id" v-model="form.region" :options="regions" label="Radio rules"
      /></FormField>
      <TextField
        v-model="form.samples"
        label="Samples are kept, days"
        field="settings.keeping.sampleDays"
        number
        min="1"
        hint="Empty: for ever."
      />
      <TextField
        v-model="form.minutes"
        label="Minutes are kept, days"
        field="settings.keeping.minuteDays"
        number
        min="1"
        hint="High, low and mean of each. Empty: for ever."
      />
    </div>
    <OwnBands v-if="form.region === 'own'" v-model="form.bands" />
    <p class="text-sm text-faint">
      Hours are kept for ever. What is older is removed within an hour of saving, and does not come back with undo; a backup keeps
      it (./run backup).
    </p>
  </DialogForm>
</template>
