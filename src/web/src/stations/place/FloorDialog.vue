<script setup lang="ts">
/** A storey: how high it lies, how high its rooms are, and what is under it. */
import { computed, ref } from "vue";
import type { Floor, Wall } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";
import { materialNames } from "@/kit/plan";

const props = defineProps<{ floor?: Floor }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const floors = computed(() => site.design.value!.place.floors ?? []);
const start = props.floor ?? site.usual.value.upstairs;
const form = ref({
  label: start.label,
  levelMetres: start.levelMetres,
  ceilingMetres: start.ceilingMetres,
  slab: start.slab as Wall["material"] | null,
  slabMetres: (start.slabMetres ?? "") as number | "",
});
const materials = [
  { value: null as Wall["material"] | null, label: "not known" },
  ...Object.entries(materialNames).map(([value, label]) => ({ value: value as Wall["material"] | null, label })),
];
const faults = ref<Fault[]>([]);

async function save() {
  faults.value = [];
  const f = form.value;
  if (typeof f.levelMetres !== "number" || typeof f.ceilingMetres !== "number") {
    faults.value = [{ says: "Level and height are numbers of metres." }];
    return;
  }
  const key =
    props.floor?.key ??
    keyFrom(
      f.label,
      floors.value.map((i) => i.key),
    );
  const floor: Floor = { ...f, key, label: f.label.trim(), slabMetres: f.slabMetres === "" ? null : f.slabMetres };
  const done = await site.apply(`${floor.label} ${props.floor ? "changed" : "added"}`, [{ kind: "putFloor", floor }], true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="floor ? `Floor: ${floor.label}` : 'New floor'"
    :save="floor ? 'Save' : 'Add the floor'"
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <TextField v-model="form.label" label="Name" field="floor.label" />
    <div class="grid grid-cols-2 gap-3">
      <TextField
        v-model="form.levelMetres"
        label="Above the ground, m"
        field="floor.levelMetres"
        number
        hint="Below 0: a cellar."
      />
      <TextField v-model="form.ceilingMetres" label="Floor to ceiling, m" field="floor.ceilingMetres" number />
      <FormField v-slot="{ id }" label="Under it lies"
        ><SelectBox :id="id" v-model="form.slab" :options="materials" label="Under it lies"
      /></FormField>
      <TextField v-model="form.slabMetres" label="Thickness, m" field="floor.slabMetres" number hint="Empty: as usual." />
    </div>
    <p class="text-sm text-faint">The ground needs no floor of its own. A roof that counts is a floor at its height.</p>
  </DialogForm>
</template>
