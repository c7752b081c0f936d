<script setup lang="ts">
/** A room: where it is, how big, and what it is like there. A rectangle by its size, another shape by its corners. */
import { computed, ref } from "vue";
import type { Room } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import DialogForm from "@/kit/DialogForm.vue";
import MetresField from "@/kit/MetresField.vue";
import TextField from "@/kit/TextField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import FormField from "@/kit/FormField.vue";
import type { Fault } from "@/kit/faults";
import { floorChoices, tagNames } from "@/kit/plan";
import { isRectangle, rectangle, round, type At } from "./outline";

const props = defineProps<{ room?: Room; drawn?: At[]; floor: string }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const outline = props.drawn ??
  props.room?.corners ?? [
    { x: 0, y: 0 },
    { x: 4, y: 0 },
    { x: 4, y: 3 },
    { x: 0, y: 3 },
  ];
const xs = outline.map((c) => c.x);
const ys = outline.map((c) => c.y);
const form = ref({
  label: props.room?.label ?? "",
  x: Math.min(...xs),
  y: Math.min(...ys),
  width: round(Math.max(...xs) - Math.min(...xs)),
  depth: round(Math.max(...ys) - Math.min(...ys)),
  corners: outline.map((c) => ({ ...c })),
  floor: props.room?.floor ?? props.floor,
  tags: [...(props.room?.tags ?? [])],
  watched: (props.room?.watchedPercent ?? "") as number | "",
});
const bySize = ref(isRectangle(outline));
const tags = (Object.keys(tagNames) as Room["tags"][number][]).map((key) => ({ key, label: tagNames[key] }));
const floors = floorChoices(site.design.value!.place);
const faults = ref<Fault[]>([]);
const sizeFault = ref("");
const corners = computed<At[]>(() => {
  const f = form.value;
  return bySize.value
    ? rectangle({ x: round(f.x), y: round(f.y) }, { x: round(f.x + f.width), y: round(f.y + f.depth) })
    : f.corners;
});

function byCorners() {
  form.value.corners = corners.value.map((c) => ({ ...c }));
  bySize.value = false;
}

/** Puts a corner in the middle of the side that follows one. */
function add(after: number) {
  const all = form.value.corners;
  const [a, b] = [all[after]!, all[(after + 1) % all.length]!];
  all.splice(after + 1, 0, { x: round((a.x + b.x) / 2), y: round((a.y + b.y) / 2) });
}

async function save() {
  faults.value = [];
  const f = form.value;
  const numbers = bySize.value ? [f.x, f.y, f.width, f.depth] : f.corners.flatMap((c) => [c.x, c.y]);
  const sized = numbers.every((n) => typeof n === "number" && isFinite(n)) && (!bySize.value || (f.width > 0 && f.depth > 0));
  sizeFault.value = sized
    ? ""
    : bySize.value
      ? "Position and size are metres; width and depth are above 0."
      : "Each corner has two lengths, from left and from top.";
  if (sizeFault.value) return;
  const room: Room = {
    key:
      props.room?.key ??
      keyFrom(
        f.label,
        site.design.value!.place.rooms.map((r) => r.key),
      ),
    label: f.label.trim(),
    corners: corners.value,
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
    <template v-if="bySize">
      <div class="grid grid-cols-2 gap-3 sm:grid-cols-4">
        <MetresField v-model="form.x" label="From left, m" />
        <MetresField v-model="form.y" label="From top, m" />
        <MetresField v-model="form.width" label="Width, m" />
        <MetresField v-model="form.depth" label="Depth, m" />
      </div>
      <AppButton kind="bare" class="w-fit" @click="byCorners">Another shape, by its corners</AppButton>
    </template>
    <fieldset v-else>
      <legend class="caps">Corners, m from left and from top</legend>
      <div v-for="(c, i) in form.corners" :key="i" class="mt-1 grid grid-cols-[1fr_1fr_auto_auto] items-end gap-2">
        <MetresField v-model="c.x" :label="`${i + 1}, from left`" />
        <MetresField v-model="c.y" :label="`${i + 1}, from top`" />
        <AppButton kind="bare" :aria-label="`Add a corner after ${i + 1}`" @click="add(i)">Add</AppButton>
        <AppButton
          kind="bare"
          :aria-label="`Remove corner ${i + 1}`"
          :disabled="form.corners.length < 4"
          @click="form.corners.splice(i, 1)"
          >Remove</AppButton
        >
      </div>
    </fieldset>
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
