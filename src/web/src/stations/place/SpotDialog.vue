<script setup lang="ts">
/** A spot for a node: where, how high, and where a sensor there looks. */
import { computed, ref } from "vue";
import type { Spot } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import MetresField from "@/kit/MetresField.vue";
import TextField from "@/kit/TextField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import type { Fault } from "@/kit/faults";

const props = defineProps<{ spot?: Spot }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const form = ref<Omit<Spot, "key">>(
  props.spot ? { ...props.spot } : { label: "", room: null, x: 1, y: 1, heightMetres: 1.5, facingDegrees: 180, tiltDegrees: 0 },
);
const rooms = computed(() => [
  { value: null as string | null, label: "in no room" },
  ...site.design.value!.place.rooms.map((r) => ({ value: r.key as string | null, label: r.label })),
]);
const faults = ref<Fault[]>([]);

async function save() {
  faults.value = [];
  const key =
    props.spot?.key ??
    keyFrom(
      form.value.label,
      site.design.value!.place.spots.map((s) => s.key),
    );
  const numbers = [form.value.x, form.value.y, form.value.heightMetres, form.value.facingDegrees, form.value.tiltDegrees];
  if (!numbers.every((n) => typeof n === "number" && isFinite(n))) {
    faults.value = [{ says: "Position, height, direction and tilt are numbers." }];
    return;
  }
  const done = await site.apply(
    `${form.value.label} ${props.spot ? "changed" : "added"}`,
    [{ kind: "putSpot", spot: { ...form.value, key, label: form.value.label.trim() } }],
    true,
  );
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="spot ? `Spot: ${spot.label}` : 'New spot'"
    :save="spot ? 'Save' : 'Add the spot'"
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <TextField v-model="form.label" label="Name" field="spot.label" />
    <FormField v-slot="{ id }" label="Room"><SelectBox :id="id" v-model="form.room" :options="rooms" label="Room" /></FormField>
    <div class="grid grid-cols-2 gap-3 sm:grid-cols-5">
      <MetresField v-model="form.x" label="From left, m" />
      <MetresField v-model="form.y" label="From top, m" />
      <MetresField v-model="form.heightMetres" label="Height, m" field="spot.heightMetres" />
      <TextField v-model="form.facingDegrees" label="Looks to, °" field="spot.facingDegrees" number />
      <TextField v-model="form.tiltDegrees" label="Tilted down, °" field="spot.tiltDegrees" number />
    </div>
    <p class="text-sm text-faint">
      0° looks up the plan, 90° to the right. Fixing something high means a ladder: have somebody hold it.
    </p>
  </DialogForm>
</template>
