<script setup lang="ts">
/** A photo or scan of a paper plan under the floor that is drawn: laid there, scaled by two points, moved, taken away. */
import { computed, ref, watch } from "vue";
import { api, sentence, type FloorScan } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import CheckBox from "@/kit/CheckBox.vue";
import MetresField from "@/kit/MetresField.vue";
import { smallPicture } from "@/kit/pictures";
import { between, round, type At } from "./outline";

/** What a picture is laid down as before it is scaled, m across. */
const FIRST_WIDTH = 12;

const props = defineProps<{ floor: string; scan?: FloorScan; points: At[] }>();
const emit = defineEmits<{ again: []; done: [] }>();
const site = useSite();
const metres = ref<number | "">("");
const level = ref(true);
const fault = ref("");
const busy = ref(false);
const floor = computed(() => props.floor || null);
watch(
  () => props.points.length,
  () => (fault.value = ""),
);

async function lay(event: Event) {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  input.value = "";
  if (!file) return;
  busy.value = true;
  fault.value = await laid(file).catch((e) => sentence(e));
  busy.value = false;
}

async function laid(file: File): Promise<string> {
  const { blob, width, height } = await smallPicture(file, 2000);
  const { data, error } = await api.POST("/api/sites/{site}/place/pictures", {
    params: { path: { site: site.key.value } },
    body: blob as never,
    bodySerializer: (b: unknown) => b as Blob,
    headers: { "Content-Type": "image/jpeg" },
  } as never);
  if (!data) return sentence(error);
  const scan: FloorScan = {
    floor: floor.value,
    picture: (data as { id: number }).id,
    pixelsWide: width,
    pixelsHigh: height,
    x: props.scan?.x ?? 0,
    y: props.scan?.y ?? 0,
    metresPerPixel: FIRST_WIDTH / width,
    turnDegrees: 0,
  };
  const done = await site.apply("Picture laid under the plan", [{ kind: "putScan", scan }], true);
  return done.ok ? "" : done.reasons.join(" ");
}

async function fit() {
  const [from, to] = props.points;
  if (!from || !to) return;
  if (typeof metres.value !== "number" || !(metres.value > 0)) {
    fault.value = "Say how far the two points are apart.";
    return;
  }
  const edit = { kind: "fitScan" as const, floor: floor.value, from, to, metres: metres.value, level: level.value };
  const done = await site.apply("Picture scaled", [edit], true);
  fault.value = done.ok ? "" : done.reasons.join(" ");
  if (done.ok) emit("again");
}

async function remove() {
  const done = await site.apply("Picture taken away", [{ kind: "removeScan", floor: floor.value }]);
  if (done.ok) emit("done");
}
</script>

<template>
  <section class="mb-2 flex flex-wrap items-end gap-x-4 gap-y-2" aria-label="Picture under the plan">
    <p class="max-w-prose text-sm text-faint" role="status">
      <template v-if="!scan">A photo or scan of a paper plan lies under the plan while you draw the rooms on it.</template>
      <template v-else-if="points.length < 2">
        Click two points of the picture whose distance you know: the ends of a long wall. {{ points.length }} of 2. Drag it to
        where it belongs; arrow keys move it too.
      </template>
      <template v-else
        >{{ round(between(points[0]!, points[1]!)) }} m on the plan now. How far are they apart in the house?</template
      >
    </p>
    <form v-if="scan && points.length === 2" class="flex flex-wrap items-end gap-3" @submit.prevent="fit">
      <MetresField v-model="metres" label="Apart, m" class="w-32" />
      <CheckBox v-model="level" label="The line is level or upright" />
      <AppButton kind="lead" type="submit">Scale it</AppButton>
      <AppButton @click="$emit('again')">Other points</AppButton>
    </form>
    <label
      class="inline-flex min-h-9 cursor-pointer items-center rounded-sm border border-faint px-3 focus-within:outline-2 hover:border-act hover:text-act"
    >
      <input type="file" accept="image/*" class="sr-only" data-scan :disabled="busy" @change="lay" />
      {{ busy ? "Sending…" : scan ? "Another picture…" : "Choose a picture…" }}
    </label>
    <AppButton v-if="scan" @click="remove">Take it away</AppButton>
    <AppButton @click="$emit('done')">Done</AppButton>
    <p v-if="fault" class="w-full text-sm text-stop" role="alert">{{ fault }}</p>
  </section>
</template>
