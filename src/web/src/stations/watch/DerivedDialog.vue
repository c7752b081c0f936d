<script setup lang="ts">
/** A reading that is worked out of others: how, of what, and what it would be now. */
import { useQuery } from "@tanstack/vue-query";
import { refDebounced } from "@vueuse/core";
import { computed, ref, watch } from "vue";
import { api, answer, type DerivedDesign, type ReadingView } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import WorkingView from "@/kit/WorkingView.vue";
import type { Fault } from "@/kit/faults";
import { formOf, fromOf, kindOf, kinds, suits } from "./derived";
import VesselFields from "./VesselFields.vue";

const props = defineProps<{ derived?: DerivedDesign; readings: ReadingView[] }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const form = ref(formOf(props.derived?.from));
const label = ref(props.derived?.label ?? "");
const decimals = ref<number | "" | undefined>(props.derived?.decimals ?? 1);
const faults = ref<Fault[]>([]);
const kind = computed(() => kindOf(form.value.kind));
const id = (r: ReadingView) => `${r.node}/${r.key}`;
/** Not worked out of itself. */
const others = computed(() => props.readings.filter((r) => r.node !== "derived" || r.key !== props.derived?.key));
const options = (units: string[], optional?: boolean) => [
  ...(optional ? [{ value: "", label: "none: as warm as the air" }] : []),
  ...others.value.filter((r) => suits(r, units)).map((r) => ({ value: id(r), label: `${r.label} (${r.nodeLabel})` })),
];
/** What tells of somebody first; an output tells of nobody. */
const tells = ["presence", "motion"];
const sensors = computed(() => {
  const out = new Set(
    (site.design.value?.nodes ?? []).flatMap((n) => n.readings.filter((r) => r.output).map((r) => `${n.key}/${r.key}`)),
  );
  const some = others.value.filter((r) => (r.kind === "state" || r.kind === "event") && !out.has(id(r)));
  return [...some.filter((r) => tells.includes(r.quantity)), ...some.filter((r) => !tells.includes(r.quantity))];
});
const nodes = computed(() =>
  (site.design.value?.nodes ?? [])
    .filter((n) => form.value.kind !== "daysLeft" || n.power.kind === "cells")
    .map((n) => ({ value: n.key, label: n.label })),
);
watch(
  () => form.value.kind,
  (k) => {
    form.value.of = [];
    decimals.value = kindOf(k).decimals;
  },
);
const made = computed(() => fromOf(form.value));
const asked = refDebounced(
  computed(() => (made.value.made ? JSON.stringify(made.value.made) : "")),
  300,
);
const look = useQuery({
  queryKey: ["derived-look", site.key, asked],
  enabled: computed(() => asked.value !== ""),
  retry: false,
  queryFn: () =>
    answer(
      api.POST("/api/sites/{site}/derived/look", {
        params: { path: { site: site.key.value } },
        body: { from: JSON.parse(asked.value) },
      }),
    ),
});

async function save() {
  faults.value = made.value.fault ? [{ says: made.value.fault }] : [];
  if (!made.value.made) return;
  const name = label.value.trim() || kind.value.name;
  const taken = (site.design.value?.derived ?? []).map((d) => d.key);
  const derived = {
    key: props.derived?.key ?? keyFrom(name, taken),
    label: name,
    from: made.value.made,
    decimals: Number(decimals.value),
  };
  const done = await site.apply(`${name} is worked out`, [{ kind: "putDerived", derived }], true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="derived ? derived.label : 'Work a reading out'"
    :save="derived ? 'Save' : 'Work it out'"
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <FormField v-slot="{ id: f }" label="What"><SelectBox :id="f" v-model="form.kind" :options="kinds" label="What" /></FormField>
    <FormField v-for="(role, i) in kind.roles" :key="`${form.kind} ${i}`" v-slot="{ id: f }" :label="role.label">
      <SelectBox
        :id="f"
        :model-value="form.of[i] ?? ''"
        :options="options(role.units, role.optional)"
        :label="role.label"
        @update:model-value="form.of[i] = $event"
      />
      <p v-if="!options(role.units).length" class="text-sm text-faint">
        No reading of this site comes in {{ role.units.join(" or ") }}.
      </p>
    </FormField>
    <template v-if="form.kind === 'sum'">
      <div v-for="(term, i) in form.terms" :key="i" class="grid grid-cols-[5.5rem_1fr] items-end gap-3">
        <TextField v-model="term.factor" :label="i === 0 ? 'Times' : 'and times'" number />
        <FormField v-slot="{ id: f }" label="Reading"
          ><SelectBox :id="f" v-model="term.reading" :options="options([])" :label="`Reading ${i + 1}`"
        /></FormField>
      </div>
      <div class="flex flex-wrap items-end gap-3">
        <TextField v-model="form.plus" class="w-24" label="Plus" number />
        <AppButton v-if="form.terms.length < 8" small @click="form.terms.push({ reading: '', factor: 1 })"
          >One reading more</AppButton
        >
      </div>
    </template>
    <fieldset v-else-if="form.kind === 'presence'">
      <legend class="caps">Sensors</legend>
      <CheckBox
        v-for="r in sensors"
        :key="id(r)"
        :label="`${r.label} (${r.nodeLabel})`"
        :model-value="form.of.includes(id(r))"
        @update:model-value="form.of = $event ? [...form.of, id(r)] : form.of.filter((x) => x !== id(r))"
      />
    </fieldset>
    <VesselFields v-else-if="form.kind === 'vessel'" v-model="form.vessel" />
    <FormField v-if="form.kind === 'lostShare' || form.kind === 'daysLeft'" v-slot="{ id: f }" label="Node"
      ><SelectBox :id="f" v-model="form.node" :options="nodes" label="Node"
    /></FormField>
    <div class="grid gap-3 sm:grid-cols-3">
      <FormField v-if="form.kind === 'vessel'" v-slot="{ id: f }" label="As"
        ><SelectBox
          :id="f"
          v-model="form.measure"
          :options="[
            { value: 'litres' as const, label: 'volume, L' },
            { value: 'level' as const, label: 'level, cm' },
            { value: 'share' as const, label: 'fullness, %' },
          ]"
          label="As"
      /></FormField>
      <FormField v-if="form.kind === 'mouldIndex'" v-slot="{ id: f }" label="On"
        ><SelectBox
          :id="f"
          v-model="form.ground"
          :options="[
            { value: 'wood' as const, label: 'bare wood' },
            { value: 'stone' as const, label: 'stone, plaster' },
          ]"
          label="On"
      /></FormField>
      <template v-if="form.kind === 'degreeDays'">
        <FormField v-slot="{ id: f }" label="Counts"
          ><SelectBox
            :id="f"
            v-model="form.side"
            :options="[
              { value: 'below' as const, label: 'below (heating)' },
              { value: 'above' as const, label: 'above (cooling)' },
            ]"
            label="Counts"
        /></FormField>
        <TextField v-model="form.base" label="Base, °C" field="derived.from.baseCelsius" number />
      </template>
      <TextField v-if="form.kind === 'runningHours'" v-model="form.above" label="While above" field="derived.from.above" number />
      <TextField
        v-if="form.kind === 'conductivityAt25' || form.kind === 'dissolvedSolids'"
        v-model="form.percent"
        label="Rises, % a °C"
        field="derived.from.percentPerKelvin"
        number
      />
      <TextField
        v-if="form.kind === 'dissolvedSolids'"
        v-model="form.factor"
        label="mg/L each µS/cm"
        field="derived.from.factor"
        number
      />
      <TextField
        v-if="form.kind === 'rate' || form.kind === 'lostShare'"
        v-model="form.within"
        label="Over the last"
        field="derived.from.withinMs"
        mono
      />
      <template v-if="form.kind === 'rate'">
        <FormField v-slot="{ id: f }" label="It counts"
          ><SelectBox
            :id="f"
            v-model="form.pulsesOf"
            :options="[
              { value: 'none' as const, label: 'no pulses: its rise an hour' },
              { value: 'litre' as const, label: 'pulses of litres: L/min' },
              { value: 'revolution' as const, label: 'pulses of turns: turns a minute' },
              { value: 'kilowattHour' as const, label: 'pulses of kWh: kW' },
              { value: 'millimetreOfRain' as const, label: 'pulses of rain: mm/h' },
            ]"
            label="It counts"
        /></FormField>
        <TextField
          v-if="form.pulsesOf !== 'none'"
          v-model="form.pulsesEach"
          label="Pulses for one"
          field="derived.from.pulses.each"
          number
        />
      </template>
      <TextField
        v-if="form.kind === 'presence'"
        v-model="form.hold"
        label="Off when quiet for"
        field="derived.from.holdMs"
        mono
      />
      <TextField v-model="decimals" label="Digits" field="derived.decimals" number min="0" max="6" />
    </div>
    <TextField v-model="label" label="Name" field="derived.label" :placeholder="kind.name" />
    <section class="border-t border-rule pt-3" aria-label="What it would be now" aria-live="polite">
      <p v-if="!made.made" class="text-faint">{{ made.fault }} Its value and its working show here.</p>
      <p v-else-if="look.data.value?.reasons.length" class="text-stop">{{ look.data.value.reasons.join(" ") }}</p>
      <WorkingView v-else-if="look.data.value?.now" :figure="look.data.value.now" />
      <p v-if="look.data.value?.now?.value === null" class="text-sm text-faint">
        It has no value by the newest readings alone; it is worked out over what is stored.
      </p>
    </section>
    <p v-if="form.kind === 'mouldIndex'" class="text-sm text-faint">
      A model of what grows where, for a hint to air or heat; it is no finding about health or a building.
    </p>
  </DialogForm>
</template>
