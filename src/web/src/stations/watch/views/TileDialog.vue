<script setup lang="ts">
/** A tile: what it shows, of which readings, how large. */
import { computed, ref, watch } from "vue";
import type { ReadingView, TileContent, TileDesign } from "@/api/client";
import { useSite } from "@/app/site";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";
import { exactDuration, parseDuration } from "@/kit/format";
import { vesselOf, type VesselForm } from "../derived";
import { idOf, refOf } from "../names";
import VesselFields from "../VesselFields.vue";
import { fits, kinds, readingsOf, takesMany, type TileKind } from "./tile-forms";

const props = defineProps<{ tile?: TileDesign; readings: ReadingView[]; taken: string[]; busy: boolean; faults: Fault[] }>();
const emit = defineEmits<{ close: []; save: [tile: TileDesign] }>();
const site = useSite();
const id = (r: ReadingView) => `${r.node}/${r.key}`;
const outputs = computed(
  () =>
    new Set((site.design.value?.nodes ?? []).flatMap((n) => n.readings.filter((r) => r.output).map((r) => `${n.key}/${r.key}`))),
);
const c = props.tile?.content;
const kind = ref<TileKind>(c?.kind ?? "figure");
const label = ref(props.tile?.label ?? "");
const size = ref({ width: props.tile?.width ?? 1, height: props.tile?.height ?? 1 });
const chosen = ref<string[]>(c ? readingsOf(c).map(idOf) : []);
const line = ref({
  ownAxes: false,
  joined: false,
  over: "nothing" as "nothing" | "yesterday" | "lastWeek",
  ...(c?.kind === "line" ? c : {}),
});
const vessel = ref<VesselForm>({ ...site.usual.value.vessel, ...(c?.kind === "vessel" ? c : {}) });
const by = ref<"hour" | "day" | "month">(c?.kind === "counter" ? (c.by ?? "day") : "day");
const sequence = ref({
  within: exactDuration(c?.kind === "sequence" ? c.withinMs : 10_000),
  inOrder: c?.kind === "sequence" ? c.inOrder : false,
  both: c?.kind === "sequence" ? c.both : "",
  firstAlone: c?.kind === "sequence" ? c.firstAlone : "",
  secondAlone: c?.kind === "sequence" ? c.secondAlone : "",
});
const other = ref(c?.kind === "sequence" ? idOf(c.second) : "");
const text = ref(c?.kind === "note" ? c.text : "");
const zone = ref(c?.kind === "zone" ? c.zone : (site.design.value?.zones?.[0]?.key ?? ""));
const zones = computed(() => (site.design.value?.zones ?? []).map((z) => ({ value: z.key, label: z.label })));
const fault = ref("");
const offered = computed(() => props.readings.filter((r) => fits(kind.value, r, outputs.value)));
const options = computed(() => offered.value.map((r) => ({ value: id(r), label: `${r.label} (${r.nodeLabel})` })));
const wants = computed(() => !["nodes", "note", "zone"].includes(kind.value));
watch(kind, (k) => {
  const usual = kinds.find((x) => x.value === k)!;
  size.value = { width: usual.width, height: usual.height };
  const good = new Set(options.value.map((o) => o.value));
  chosen.value = chosen.value.filter((x) => good.has(x)).slice(0, takesMany(k) ? 8 : 1);
});
const one = computed({ get: () => chosen.value[0] ?? "", set: (v: string) => (chosen.value = [v]) });
const sizes = [1, 2, 3, 4].map((v) => ({ value: v, label: String(v) }));

function content(): TileContent | undefined {
  const of = chosen.value.map(refOf);
  switch (kind.value) {
    case "line":
      return { kind: "line", of, ownAxes: line.value.ownAxes, joined: line.value.joined, over: line.value.over };
    case "lanes":
    case "plan":
      return { kind: kind.value, of };
    case "nodes":
      return { kind: "nodes" };
    case "note":
      return { kind: "note", text: text.value };
    case "zone":
      return zone.value ? { kind: "zone", zone: zone.value } : undefined;
    case "output":
      return of[0] && { kind: "output", output: of[0] };
    case "counter":
      return of[0] && { kind: "counter", reading: of[0], by: by.value };
    case "sequence": {
      const { within, ...words } = sequence.value;
      const withinMs = parseDuration(within);
      if (withinMs === undefined || !other.value) return undefined;
      return of[0] && { kind: "sequence", first: of[0], second: refOf(other.value), withinMs, ...words };
    }
    case "vessel":
      return of[0] && { kind: "vessel", reading: of[0], ...vesselOf(vessel.value) };
    default:
      return of[0] && { kind: "figure", reading: of[0] };
  }
}
function save() {
  const made = content();
  fault.value = made
    ? ""
    : kind.value === "zone"
      ? "Add a zone under Alerts first."
      : kind.value === "sequence"
        ? "Choose both readings, and a time like 10 s."
        : "Choose a reading.";
  if (!made) return;
  let n = 1;
  while (props.taken.includes(`t${n}`)) n++;
  emit("save", { key: props.tile?.key ?? `t${n}`, label: label.value.trim() || null, ...size.value, content: made });
}
</script>

<template>
  <DialogForm
    :title="tile ? 'Tile' : 'New tile'"
    :save="tile ? 'Save' : 'Add'"
    :busy="busy"
    :faults="fault ? [{ says: fault }] : faults"
    @close="$emit('close')"
    @save="save"
  >
    <FormField v-slot="{ id: f }" label="Shows"><SelectBox :id="f" v-model="kind" :options="kinds" label="Shows" /></FormField>
    <template v-if="wants">
      <p v-if="!options.length" class="text-sm text-faint">No reading of this site can be shown so.</p>
      <fieldset v-else-if="takesMany(kind)">
        <legend class="caps">Readings, {{ kind === "plan" ? "64" : "8" }} at most</legend>
        <ul class="max-h-48 overflow-y-auto border border-rule px-2" tabindex="0" aria-label="Readings">
          <li v-for="o in options" :key="o.value">
            <CheckBox
              :label="o.label"
              :model-value="chosen.includes(o.value)"
              @update:model-value="chosen = $event ? [...chosen, o.value] : chosen.filter((x) => x !== o.value)"
            />
          </li>
        </ul>
      </fieldset>
      <FormField v-else v-slot="{ id: f }" label="Reading"
        ><SelectBox :id="f" v-model="one" :options="options" label="Reading"
      /></FormField>
    </template>
    <div v-if="kind === 'line'" class="flex flex-col">
      <CheckBox v-model="line.ownAxes" label="An axis for each" hint="Else readings of one unit share theirs." />
      <CheckBox v-model="line.joined" label="Join over gaps" hint="Else a gap is seen as one." />
      <FormField v-slot="{ id: f }" label="Over an earlier stretch"
        ><SelectBox
          :id="f"
          v-model="line.over"
          :options="[
            { value: 'nothing' as const, label: 'none' },
            { value: 'yesterday' as const, label: 'a day before' },
            { value: 'lastWeek' as const, label: 'a week before' },
          ]"
          label="Over an earlier stretch"
      /></FormField>
    </div>
    <VesselFields v-else-if="kind === 'vessel'" v-model="vessel" field="tile.content" />
    <template v-else-if="kind === 'sequence'">
      <FormField v-slot="{ id: f }" label="and"><SelectBox :id="f" v-model="other" :options="options" label="and" /></FormField>
      <TextField v-model="sequence.within" label="within" field="tile.content.withinMs" mono />
      <CheckBox v-model="sequence.inOrder" label="The second must not come first" />
      <TextField v-model="sequence.both" label="Both mean" field="tile.content.both" placeholder="Parcel" />
      <TextField
        v-model="sequence.firstAlone"
        label="The first alone means"
        field="tile.content.firstAlone"
        placeholder="Somebody looked in"
      />
      <TextField
        v-model="sequence.secondAlone"
        label="The second alone means"
        field="tile.content.secondAlone"
        placeholder="Wind"
      />
    </template>
    <FormField v-else-if="kind === 'counter'" v-slot="{ id: f }" label="By"
      ><SelectBox
        :id="f"
        v-model="by"
        :options="[
          { value: 'hour' as const, label: 'hour' },
          { value: 'day' as const, label: 'day' },
          { value: 'month' as const, label: 'month' },
        ]"
        label="By"
    /></FormField>
    <FormField v-else-if="kind === 'note'" v-slot="{ id: f }" label="Text">
      <textarea :id="f" v-model="text" rows="4" maxlength="2000" class="field" />
    </FormField>
    <FormField v-else-if="kind === 'zone'" v-slot="{ id: f }" label="Zone"
      ><SelectBox :id="f" v-model="zone" :options="zones" label="Zone"
    /></FormField>
    <div class="grid gap-3 sm:grid-cols-3">
      <TextField v-model="label" label="Title" field="tile.label" placeholder="of what it shows" />
      <FormField v-slot="{ id: f }" label="Columns"
        ><SelectBox :id="f" v-model="size.width" :options="sizes" label="Columns"
      /></FormField>
      <FormField v-slot="{ id: f }" label="Rows"
        ><SelectBox :id="f" v-model="size.height" :options="sizes" label="Rows"
      /></FormField>
    </div>
  </DialogForm>
</template>
