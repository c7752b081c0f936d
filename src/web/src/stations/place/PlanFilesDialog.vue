<script setup lang="ts">
/** The plan as files: where it lies on the earth, out as GeoJSON and as a drawing, and in from GeoJSON. */
import { computed, ref } from "vue";
import { api, sentence, type PlaceImport } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import DialogForm from "@/kit/DialogForm.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";

const props = defineProps<{ floor: string }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const anchor = computed(() => site.design.value!.place.anchor);
const blank = (n: number | undefined) => n ?? ("" as number | "");
const form = ref({
  latitudeDegrees: blank(anchor.value?.latitudeDegrees),
  longitudeDegrees: blank(anchor.value?.longitudeDegrees),
  bearingDegrees: blank(anchor.value?.bearingDegrees),
});
const faults = ref<Fault[]>([]);
const brings = ref<PlaceImport>();
const path = (file: string) => `/api/sites/${site.key.value}/place/${file}`;
const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? "" : "s"}`;

/** Both or neither: a place on the earth has two numbers. */
async function save() {
  faults.value = [];
  const { latitudeDegrees, longitudeDegrees, bearingDegrees } = form.value;
  const none = latitudeDegrees === "" && longitudeDegrees === "";
  if (!none && (latitudeDegrees === "" || longitudeDegrees === "")) {
    faults.value = [{ says: "A place on the earth has a latitude and a longitude.", field: "anchor.longitudeDegrees" }];
    return;
  }
  const said = none
    ? null
    : {
        latitudeDegrees: latitudeDegrees as number,
        longitudeDegrees: longitudeDegrees as number,
        bearingDegrees: bearingDegrees === "" ? 0 : bearingDegrees,
      };
  const done = await site.apply(
    none ? "The plan lies nowhere" : "Where the plan lies",
    [{ kind: "setAnchor", anchor: said }],
    true,
  );
  if (done.ok) emit("close");
  else faults.value = done.faults;
}

async function take(event: Event) {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  input.value = "";
  brings.value = undefined;
  faults.value = [];
  if (!file) return;
  const { data, error } = await api.POST("/api/sites/{site}/place/read", {
    params: { path: { site: site.key.value } },
    body: { json: await file.text() },
  });
  if (data) brings.value = data;
  else faults.value = (error && "reasons" in error ? error.reasons : [sentence(error)]).map((says) => ({ says }));
}

async function add() {
  const { edits, rooms, walls, spots, heatSources } = brings.value!;
  const label = `${counted(rooms, "room")}, ${counted(walls, "wall")}, ${counted(spots, "spot")}${heatSources ? `, ${counted(heatSources, "heater")}` : ""} from a file`;
  const done = await site.apply(label, edits, true);
  if (done.ok) emit("close");
  else faults.value = done.reasons.map((says) => ({ says }));
}
</script>

<template>
  <DialogForm title="Plan as files" save="Save" :busy="site.busy.value" :faults="faults" @close="$emit('close')" @save="save">
    <h3 class="font-semibold">Where its upper left corner lies</h3>
    <div class="grid gap-3 sm:grid-cols-3">
      <TextField
        v-model="form.latitudeDegrees"
        label="Latitude, °"
        field="anchor.latitudeDegrees"
        number
        hint="North is positive."
      />
      <TextField
        v-model="form.longitudeDegrees"
        label="Longitude, °"
        field="anchor.longitudeDegrees"
        number
        hint="East is positive."
      />
      <TextField
        v-model="form.bearingDegrees"
        label="Up points to, °"
        field="anchor.bearingDegrees"
        number
        hint="0 is north, clockwise."
      />
    </div>
    <p class="text-sm text-faint">It stays on this server. Whoever gets the GeoJSON file sees where you live.</p>
    <h3 class="font-semibold">Out</h3>
    <p class="flex flex-wrap gap-x-4 gap-y-1">
      <a v-if="anchor" :href="path('plan.geojson')" download class="text-act hover:underline">GeoJSON (RFC 7946)</a>
      <span v-else class="text-faint">GeoJSON needs the place on the earth</span>
      <a :href="path(`plan.svg${props.floor ? `?floor=${props.floor}` : ''}`)" download class="text-act hover:underline"
        >Drawing of this floor, 1 : 50 (SVG)</a
      >
    </p>
    <h3 class="font-semibold">In</h3>
    <p class="flex flex-wrap items-center gap-3">
      <label
        class="inline-flex min-h-9 cursor-pointer items-center rounded-sm border border-faint px-3 focus-within:outline-2 hover:border-act hover:text-act"
        >Read a GeoJSON file<input
          type="file"
          accept=".geojson,.json,application/geo+json,application/json"
          class="sr-only"
          data-geojson
          @change="take"
      /></label>
      <template v-if="brings">
        <span role="status"
          >{{ counted(brings.rooms, "room") }}, {{ counted(brings.walls, "wall") }}, {{ counted(brings.spots, "spot")
          }}{{ brings.heatSources ? `, ${counted(brings.heatSources, "heater")}` : "" }}</span
        >
        <AppButton :disabled="site.busy.value" @click="add">Put them on the plan</AppButton>
      </template>
    </p>
  </DialogForm>
</template>
