<script setup lang="ts">
/** A spot for a node: where, how high, and where a sensor there looks. */
import { computed, ref } from "vue";
import type { Spot } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";

const props = defineProps<{ spot?: Spot }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const form = ref<Omit<Spot, "key">>(
  props.spot ? { ...props.spot } : { label: "", room: null, x: 1, y: 1, heightMetres: 1.5, facingDegrees: 180 },
);
const rooms = computed(() => [
  { value: null as string | null, label: "in no room" },
  ...site.design.value!.place.rooms.map((r) => ({ value: r.key as string | null, label: r.label })),
]);
const fault = ref("");

async function save() {
  const key =
    props.spot?.key ??
    keyFrom(
      form.value.label,
      site.design.value!.place.spots.map((s) => s.key),
    );
  const numbers = [form.value.x, form.value.y, form.value.heightMetres, form.value.facingDegrees];
  if (!numbers.every((n) => typeof n === "number" && isFinite(n))) {
    fault.value = "Position, height and direction are numbers.";
    return;
  }
  const done = await site.apply(
    `${form.value.label} ${props.spot ? "changed" : "added"}`,
    [{ kind: "putSpot", spot: { ...form.value, key, label: form.value.label.trim() } }],
    true,
  );
  if (done.ok) emit("close");
  else fault.value = done.reasons.join(" ");
}
</script>

<template>
  <AppDialog open :title="spot ? `Spot: ${spot.label}` : 'New spot'" @close="$emit('close')">
    <form class="flex flex-col gap-3" @submit.prevent="save">
      <FormField v-slot="{ id, described, invalid }" label="Name" :fault="fault">
        <input :id="id" v-model="form.label" class="field" :aria-describedby="described" :aria-invalid="invalid" />
      </FormField>
      <FormField v-slot="{ id }" label="Room"><SelectBox :id="id" v-model="form.room" :options="rooms" label="Room" /></FormField>
      <div class="grid grid-cols-2 gap-3 sm:grid-cols-4">
        <FormField v-slot="{ id }" label="From left, m"
          ><input :id="id" v-model.number="form.x" type="number" step="any" class="field mono w-full"
        /></FormField>
        <FormField v-slot="{ id }" label="From top, m"
          ><input :id="id" v-model.number="form.y" type="number" step="any" class="field mono w-full"
        /></FormField>
        <FormField v-slot="{ id }" label="Height, m"
          ><input :id="id" v-model.number="form.heightMetres" type="number" step="any" class="field mono w-full"
        /></FormField>
        <FormField v-slot="{ id }" label="Looks to, °"
          ><input :id="id" v-model.number="form.facingDegrees" type="number" step="any" class="field mono w-full"
        /></FormField>
      </div>
      <p class="text-sm text-faint">
        0° looks up the plan, 90° to the right. Fixing something high means a ladder: have somebody hold it.
      </p>
      <div class="flex gap-2">
        <AppButton kind="lead" type="submit" :disabled="site.busy.value">{{ spot ? "Save" : "Add the spot" }}</AppButton>
        <AppButton @click="$emit('close')">Cancel</AppButton>
      </div>
    </form>
  </AppDialog>
</template>
