<script setup lang="ts">
/** A rectangular room: where it is, how big, and what it is like there. */
import { ref } from "vue";
import type { Room } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import MetresField from "@/kit/MetresField.vue";
import TextField from "@/kit/TextField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import FormField from "@/kit/FormField.vue";
import type { Fault } from "@/kit/faults";
import { floorChoices } from "@/kit/plan";
import type { Drawn } from "./draw-room";

const props = defineProps<{ room?: Room; drawn?: Drawn; floor: string }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const xs = props.room?.corners.map((c) => c.x) ?? [0];
const ys = props.room?.corners.map((c) => c.y) ?? [0];
const form = ref({
  label: props.room?.label ?? "",
  x: props.drawn?.x ?? Math.min(...xs),
  y: props.drawn?.y ?? Math.min(...ys),
  width: props.drawn?.width ?? (props.room ? Math.max(...xs) - Math.min(...xs) : 4),
  depth: props.drawn?.depth ?? (props.room ? Math.max(...ys) - Math.min(...ys) : 3),
  floor: props.room?.floor ?? props.floor,
  tags: [...(props.room?.tags ?? [])],
  watched: (props.room?.watchedPercent ?? "") as number | "",
});
const tags: { key: Room["tags"][number]; label: string }[] = [
  { key: "wet", label: "wet" },
  { key: "outdoor", label: "outdoors" },
  { key: "hot", label: "hot" },
  { key: "cold", label: "cold" },
  { key: "dusty", label: "dusty" },
  { key: "sleeping", label: "people asleep" },
];
const floors = floorChoices(site.design.value!.place);
const faults = ref<Fault[]>([]);
const sizeFault = ref("");

async function save() {
  faults.value = [];
  const f = form.value;
  sizeFault.value =
    [f.x, f.y, f.width, f.depth].every((n) => typeof n === "number" && isFinite(n)) && f.width > 0 && f.depth > 0
      ? ""
      : "Position and size are metres; width and depth are above 0.";
  if (sizeFault.value) return;
  const corner = (x: number, y: number) => ({ x: Math.round(x * 100) / 100, y: Math.round(y * 100) / 100 });
  const room: Room = {
    key:
      props.room?.key ??
      keyFrom(
        f.label,
        site.design.value!.place.rooms.map((r) => r.key),
      ),
    label: f.label.trim(),
    corners: [corner(f.x, f.y), corner(f.x + f.width, f.y), corner(f.x + f.width, f.y + f.depth), corner(f.x, f.y + f.depth)],
    tags: f.tags,
    floor: f.floor || null,
    watchedPercent: f.watched === "" ? null : f.watched,
  };
  const done = await site.apply(`${room.label} ${props.room ? "changed" : "added"}`, [{ kind: "putRoom", room }], true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="room ? `Room: ${room.label}` : 'New room'"
    :save="room ? 'Save' : 'Add the room'"
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <TextField v-model="form.label" label="Name" field="room.label" />
    <div class="grid grid-cols-2 gap-3 sm:grid-cols-4">
      <MetresField v-model="form.x" label="From left, m" />
      <MetresField v-model="form.y" label="From top, m" />
      <MetresField v-model="form.width" label="Width, m" />
      <MetresField v-model="form.depth" label="Depth, m" />
    </div>
    <FormField v-if="floors.length" v-slot="{ id }" label="Floor"
      ><SelectBox :id="id" v-model="form.floor" :options="floors" label="Floor"
    /></FormField>
    <p v-if="sizeFault" class="text-sm text-stop" role="alert">{{ sizeFault }}</p>
    <fieldset>
      <legend class="caps">What it is like there</legend>
      <label v-for="t in tags" :key="t.key" class="mr-4 inline-flex min-h-9 items-center gap-1.5"
        ><input v-model="form.tags" type="checkbox" :value="t.key" class="size-4" /> {{ t.label }}</label
      >
    </fieldset>
    <TextField
      v-model="form.watched"
      label="Sensors should see, %"
      field="room.watchedPercent"
      number
      :hint="`Of motion and presence. Empty: ${site.usual.value.watchedPercent} %.`"
    />
  </DialogForm>
</template>
