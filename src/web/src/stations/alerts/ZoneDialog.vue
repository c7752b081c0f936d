<script setup lang="ts">
/** A zone put together: sensors, times, sounders, and how it is armed. */
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, type ZoneChoice, type ZoneDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";
import QuietFields from "./QuietFields.vue";
import TellFields from "./TellFields.vue";
import { idOf, zoneForm, zoneOf } from "./zone-form";

const props = defineProps<{ zone?: ZoneDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const choices = useQuery({
  queryKey: ["zone-choices", site.key, site.revision],
  queryFn: () => answer(api.GET("/api/sites/{site}/zones/choices", { params: { path: { site: site.key.value } } })),
}).data;
const form = ref(zoneForm(props.zone, site.usual.value));
const soundWays = [
  { value: "now" as const, label: "at once" },
  { value: "after" as const, label: "after a time" },
  { value: "told" as const, label: "once somebody was told" },
];
const options = (of: ZoneChoice[] = []) => [
  { value: "", label: "nothing" },
  ...of.map((c) => ({ value: idOf(c), label: c.label })),
];
const lamps = computed(() => options(choices.value?.outputs));
const buttons = computed(() => options(choices.value?.sensors));
const presences = computed(() => options(choices.value?.presences));
const faults = ref<Fault[]>([]);

function choose(s: ZoneChoice, yes: boolean) {
  if (yes) form.value.sensors.set(idOf(s), { entry: false, inverted: s.inverted });
  else form.value.sensors.delete(idOf(s));
}

async function save() {
  if (!choices.value) return;
  const taken = (site.design.value?.zones ?? []).map((z) => z.key);
  const { made: zone, faults: wrong } = zoneOf(form.value, props.zone?.key ?? keyFrom(form.value.label, taken), choices.value);
  faults.value = wrong;
  if (!zone) return;
  const done = await site.apply(
    `${zone.label} ${props.zone ? "changed" : "added; it is off"}`,
    [{ kind: "putZone", zone }],
    true,
  );
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="zone ? zone.label : 'New zone'"
    :save="zone ? 'Save' : 'Add'"
    wide
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <TextField v-model="form.label" label="Name" field="zone.label" />
    <fieldset>
      <legend class="caps">Sensors that trigger it</legend>
      <ul class="max-h-56 overflow-y-auto border border-rule px-2" tabindex="0" aria-label="Sensors">
        <li v-for="s in choices?.sensors" :key="idOf(s)" class="flex flex-wrap items-center justify-between gap-x-4">
          <CheckBox :label="s.label" :model-value="form.sensors.has(idOf(s))" @update:model-value="choose(s, !!$event)" />
          <CheckBox v-if="form.sensors.has(idOf(s))" v-model="form.sensors.get(idOf(s))!.entry" label="way in" />
        </li>
      </ul>
    </fieldset>
    <div class="grid gap-3 sm:grid-cols-3">
      <TextField v-model="form.times.exit" label="Time to leave" field="zone.exitMs" mono />
      <TextField v-model="form.times.entry" label="Time to disarm" field="zone.entryMs" mono />
      <TextField v-model="form.triggers" label="Triggers" field="zone.triggers" number min="1" />
      <TextField v-model="form.times.within" label="within" field="zone.withinMs" mono :disabled="Number(form.triggers) < 2" />
      <TextField v-model="form.times.sound" label="Sounds for at most" field="zone.soundMs" mono />
      <TextField v-model="form.times.holdOff" label="Hold-off" field="zone.holdOffMs" mono />
    </div>
    <fieldset v-if="choices?.outputs.length">
      <legend class="caps">Sounds</legend>
      <CheckBox
        v-for="s in choices.outputs"
        :key="idOf(s)"
        :label="s.label"
        :model-value="form.sounders.has(idOf(s))"
        @update:model-value="$event ? form.sounders.add(idOf(s)) : form.sounders.delete(idOf(s))"
      />
      <div v-if="form.sounders.size" class="mt-2 grid gap-3 sm:grid-cols-2">
        <FormField v-slot="{ id: field }" label="It sounds"
          ><SelectBox :id="field" v-model="form.sounds" :options="soundWays" label="It sounds"
        /></FormField>
        <TextField
          v-if="form.sounds !== 'now'"
          v-model="form.times.soundAfter"
          :label="form.sounds === 'told' ? 'and at the latest after' : 'after'"
          field="zone.soundAfterMs"
          mono
        />
        <CheckBox v-model="form.chirps" label="A short chirp while it is armed" />
      </div>
      <FormField v-slot="{ id: field }" class="mt-2" label="A test lights" hint="For three seconds at each trigger."
        ><SelectBox :id="field" v-model="form.lamp" :options="lamps" label="A test lights"
      /></FormField>
    </fieldset>
    <fieldset class="flex flex-col gap-2 border-t border-rule pt-2">
      <legend class="caps">Armed by itself</legend>
      <CheckBox v-model="form.byClock" label="By the clock" />
      <QuietFields
        v-if="form.byClock"
        v-model:from="form.from"
        v-model:to="form.to"
        v-model:on="form.on"
        :zone="site.design.value?.settings.timeZone ?? 'UTC'"
        field="zone.schedule.armed"
      />
      <div class="grid gap-3 sm:grid-cols-3">
        <FormField v-slot="{ id: field }" label="By a button"
          ><SelectBox :id="field" v-model="form.button" :options="buttons" label="Button"
        /></FormField>
        <FormField v-slot="{ id: field }" label="When nobody is there by"
          ><SelectBox :id="field" v-model="form.presence" :options="presences" label="Presence"
        /></FormField>
        <TextField v-if="form.presence" v-model="form.times.away" label="for" field="zone.presence.awayMs" mono />
      </div>
    </fieldset>
    <TellFields v-model="form.tell" />
    <TextField v-model="form.note" label="What to do then" field="zone.note" />
    <p class="text-sm text-faint">
      Silence of a sensor while the zone watches is an alarm too. Home-made: no certified intruder alarm. Sirens harm ears at
      close range.
    </p>
  </DialogForm>
</template>
