<script setup lang="ts">
/** A zone put together: sensors, times, sounders, and how it is armed. */
import { computed, ref } from "vue";
import type { ZoneDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import { exactDuration, parseDuration } from "@/kit/format";
import { noTime, type Fault } from "@/kit/faults";
import QuietFields from "./QuietFields.vue";
import TellFields from "./TellFields.vue";
import { derivedNode } from "@/stations/watch/derived";
import { clock, days, minuteOf, tellForm, tellOf, type Day } from "./tell";

const props = defineProps<{ zone?: ZoneDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const triggering = ["motion", "presence", "contact", "vibration", "level"];
const nodes = computed(() => site.design.value?.nodes ?? []);
const sensors = computed(() =>
  nodes.value.flatMap((n) =>
    n.readings
      .filter((r) => triggering.includes(r.quantity))
      .map((r) => ({ node: n.key, reading: r.key, label: `${r.label} (${n.label})`, contact: r.quantity === "contact" })),
  ),
);
const sounders = computed(() =>
  nodes.value.flatMap((n) =>
    n.readings.filter((r) => r.output).map((r) => ({ node: n.key, output: r.key, label: `${r.label} (${n.label})` })),
  ),
);
const id = (s: { node: string; reading?: string; output?: string }) => `${s.node}/${s.reading ?? s.output}`;
const z = props.zone;
const label = ref(z?.label ?? "");
const chosen = ref(new Map((z?.sensors ?? []).map((s) => [id(s), { entry: s.entry ?? false, inverted: s.inverted ?? false }])));
const sounding = ref(new Set((z?.sounders ?? []).map(id)));
const times = ref({
  exit: exactDuration(z?.exitMs ?? 30_000),
  entry: exactDuration(z?.entryMs ?? 20_000),
  within: exactDuration(z?.withinMs ?? 10_000),
  sound: exactDuration(z?.soundMs ?? 180_000),
  holdOff: exactDuration(z?.holdOffMs ?? 300_000),
  away: exactDuration(z?.presence?.awayMs ?? 900_000),
  soundAfter: exactDuration(z?.soundAfterMs || 60_000),
});
const triggers = ref<number | "">(z?.triggers ?? 1);
/** When it sounds. */
const sounds = ref<"now" | "after" | "told">(z?.soundOnceTold ? "told" : z?.soundAfterMs ? "after" : "now");
const soundWays = [
  { value: "now" as const, label: "at once" },
  { value: "after" as const, label: "after a time" },
  { value: "told" as const, label: "once somebody was told" },
];
const chirps = ref(z?.chirps ?? true);
const lamp = ref(z?.lamp ? `${z.lamp.node}/${z.lamp.output}` : "");
const lamps = computed(() => [{ value: "", label: "nothing" }, ...sounders.value.map((s) => ({ value: id(s), label: s.label }))]);
const note = ref(z?.note ?? "");
const tell = ref(tellForm(z?.tell));
const byClock = ref(!!z?.schedule);
const from = ref(clock(z?.schedule?.armed.fromMinute ?? 23 * 60));
const to = ref(clock(z?.schedule?.armed.toMinute ?? 6 * 60));
const on = ref<Day[]>([...(z?.schedule?.armed.days ?? days)]);
const refs = computed(() => [{ value: "", label: "nothing" }, ...sensors.value.map((s) => ({ value: id(s), label: s.label }))]);
/** Several sensors may have been made one presence. */
const presences = computed(() => [
  ...refs.value,
  ...(site.design.value?.derived ?? [])
    .filter((d) => d.from.kind === "presence")
    .map((d) => ({ value: `${derivedNode}/${d.key}`, label: `${d.label} (worked out)` })),
]);
const button = ref(z?.button ? id(z.button) : "");
const presence = ref(z?.presence ? id(z.presence) : "");
const faults = ref<Fault[]>([]);

function choose(s: (typeof sensors.value)[0], yes: boolean) {
  // A contact is closed at rest: it triggers when it opens.
  if (yes) chosen.value.set(id(s), { entry: false, inverted: s.contact });
  else chosen.value.delete(id(s));
}
function pair(text: string) {
  const [node, reading] = text.split("/");
  return { node: node!, reading: reading! };
}

/** Where each time lies in the edit. */
const fieldOf: Record<string, string> = {
  exit: "zone.exitMs",
  entry: "zone.entryMs",
  within: "zone.withinMs",
  sound: "zone.soundMs",
  holdOff: "zone.holdOffMs",
  away: "zone.presence.awayMs",
  soundAfter: "zone.soundAfterMs",
};

async function save() {
  faults.value = [];
  const ms = Object.fromEntries(Object.entries(times.value).map(([k, v]) => [k, parseDuration(v)]));
  for (const [k, v] of Object.entries(times.value)) if (ms[k] === undefined) faults.value.push(noTime(v, fieldOf[k]));
  const { made, fault } = tellOf(tell.value);
  if (fault) faults.value.push({ says: fault, field: "zone.tell" });
  const [a, b] = [minuteOf(from.value), minuteOf(to.value)];
  if (byClock.value && (a === undefined || b === undefined))
    faults.value.push({ says: "Write the times of the schedule like 22:30.", field: "zone.schedule.armed.toMinute" });
  if (faults.value.length) return;
  const zone: ZoneDesign = {
    key:
      z?.key ??
      keyFrom(
        label.value,
        (site.design.value!.zones ?? []).map((x) => x.key),
      ),
    label: label.value.trim(),
    sensors: sensors.value
      .filter((s) => chosen.value.has(id(s)))
      .map((s) => ({ node: s.node, reading: s.reading, ...chosen.value.get(id(s))! })),
    exitMs: ms.exit!,
    entryMs: ms.entry!,
    triggers: Number(triggers.value) || 0,
    withinMs: ms.within!,
    sounders: sounders.value.filter((s) => sounding.value.has(id(s))).map((s) => ({ node: s.node, output: s.output })),
    soundMs: ms.sound!,
    holdOffMs: ms.holdOff!,
    soundAfterMs: sounds.value === "now" ? 0 : ms.soundAfter!,
    soundOnceTold: sounds.value === "told",
    chirps: chirps.value,
    lamp: lamp.value ? { node: lamp.value.split("/")[0]!, output: lamp.value.split("/")[1]! } : null,
    tell: made,
    note: note.value.trim(),
    schedule: byClock.value ? { armed: { fromMinute: a!, toMinute: b!, days: on.value } } : null,
    button: button.value ? pair(button.value) : null,
    presence: presence.value ? { ...pair(presence.value), awayMs: ms.away! } : null,
  };
  const done = await site.apply(`${zone.label} ${z ? "changed" : "added; it is off"}`, [{ kind: "putZone", zone }], true);
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
    <TextField v-model="label" label="Name" field="zone.label" />
    <fieldset>
      <legend class="caps">Sensors that trigger it</legend>
      <ul class="max-h-56 overflow-y-auto border border-rule px-2" tabindex="0" aria-label="Sensors">
        <li v-for="s in sensors" :key="id(s)" class="flex flex-wrap items-center justify-between gap-x-4">
          <CheckBox :label="s.label" :model-value="chosen.has(id(s))" @update:model-value="choose(s, !!$event)" />
          <CheckBox v-if="chosen.has(id(s))" v-model="chosen.get(id(s))!.entry" label="way in" />
        </li>
      </ul>
    </fieldset>
    <div class="grid gap-3 sm:grid-cols-3">
      <TextField v-model="times.exit" label="Time to leave" field="zone.exitMs" mono />
      <TextField v-model="times.entry" label="Time to disarm" field="zone.entryMs" mono />
      <TextField v-model="triggers" label="Triggers" field="zone.triggers" number min="1" />
      <TextField v-model="times.within" label="within" field="zone.withinMs" mono :disabled="Number(triggers) < 2" />
      <TextField v-model="times.sound" label="Sounds for at most" field="zone.soundMs" mono />
      <TextField v-model="times.holdOff" label="Hold-off" field="zone.holdOffMs" mono />
    </div>
    <fieldset v-if="sounders.length">
      <legend class="caps">Sounds</legend>
      <CheckBox
        v-for="s in sounders"
        :key="id(s)"
        :label="s.label"
        :model-value="sounding.has(id(s))"
        @update:model-value="$event ? sounding.add(id(s)) : sounding.delete(id(s))"
      />
      <div v-if="sounding.size" class="mt-2 grid gap-3 sm:grid-cols-2">
        <FormField v-slot="{ id: field }" label="It sounds"
          ><SelectBox :id="field" v-model="sounds" :options="soundWays" label="It sounds"
        /></FormField>
        <TextField
          v-if="sounds !== 'now'"
          v-model="times.soundAfter"
          :label="sounds === 'told' ? 'and at the latest after' : 'after'"
          field="zone.soundAfterMs"
          mono
        />
        <CheckBox v-model="chirps" label="A short chirp while it is armed" />
      </div>
      <FormField v-slot="{ id: field }" class="mt-2" label="A test lights" hint="For three seconds at each trigger."
        ><SelectBox :id="field" v-model="lamp" :options="lamps" label="A test lights"
      /></FormField>
    </fieldset>
    <fieldset class="flex flex-col gap-2 border-t border-rule pt-2">
      <legend class="caps">Armed by itself</legend>
      <CheckBox v-model="byClock" label="By the clock" />
      <QuietFields
        v-if="byClock"
        v-model:from="from"
        v-model:to="to"
        v-model:on="on"
        :zone="site.design.value?.settings.timeZone ?? 'UTC'"
        field="zone.schedule.armed"
      />
      <div class="grid gap-3 sm:grid-cols-3">
        <FormField v-slot="{ id: field }" label="By a button"
          ><SelectBox :id="field" v-model="button" :options="refs" label="Button"
        /></FormField>
        <FormField v-slot="{ id: field }" label="When nobody is there by"
          ><SelectBox :id="field" v-model="presence" :options="presences" label="Presence"
        /></FormField>
        <TextField v-if="presence" v-model="times.away" label="for" field="zone.presence.awayMs" mono />
      </div>
    </fieldset>
    <TellFields v-model="tell" />
    <TextField v-model="note" label="What to do then" field="zone.note" />
    <p class="text-sm text-faint">
      Silence of a sensor while the zone watches is an alarm too. Home-made: no certified intruder alarm. Sirens harm ears at
      close range.
    </p>
  </DialogForm>
</template>
