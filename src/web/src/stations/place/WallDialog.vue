<script setup lang="ts">
/** A wall: from where to where, of what, how thick, and the doors and windows in it. */
import { computed, ref } from "vue";
import type { Opening, Wall } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import MetresField from "@/kit/MetresField.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";
import { floorChoices, materialNames, openingNames } from "@/kit/plan";

const props = defineProps<{ wall?: Wall; floor: string }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const place = computed(() => site.design.value!.place);
const form = ref({
  fromX: props.wall?.from.x ?? 0,
  fromY: props.wall?.from.y ?? 0,
  toX: props.wall?.to.x ?? 4,
  toY: props.wall?.to.y ?? 0,
  material: props.wall?.material ?? ("brick" as Wall["material"]),
  thicknessMetres: (props.wall?.thicknessMetres ?? "") as number | "",
  floor: props.wall?.floor ?? props.floor,
  openings: (props.wall?.openings ?? []).map((o) => ({ ...o })),
});
const materials = Object.entries(materialNames).map(([value, label]) => ({ value: value as Wall["material"], label }));
const kinds = Object.entries(openingNames).map(([value, label]) => ({ value: value as Opening["kind"], label }));
const floors = computed(() => floorChoices(place.value));
const faults = ref<Fault[]>([]);
async function save() {
  faults.value = [];
  const f = form.value;
  const numbers = [
    f.fromX,
    f.fromY,
    f.toX,
    f.toY,
    ...f.openings.flatMap((o) => [o.atMetres, o.widthMetres, o.sillMetres, o.heightMetres]),
  ];
  if (!numbers.every((n) => typeof n === "number" && isFinite(n))) {
    faults.value = [{ says: "Places and sizes are numbers of metres." }];
    return;
  }
  const key =
    props.wall?.key ??
    keyFrom(
      "wall",
      place.value.walls.map((w) => w.key),
    );
  const wall: Wall = {
    key,
    from: { x: f.fromX, y: f.fromY },
    to: { x: f.toX, y: f.toY },
    material: f.material,
    thicknessMetres: f.thicknessMetres === "" ? null : f.thicknessMetres,
    floor: f.floor || null,
    openings: f.openings,
  };
  const done = await site.apply(props.wall ? "Wall changed" : "Wall added", [{ kind: "putWall", wall }], true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="wall ? 'Wall' : 'New wall'"
    :save="wall ? 'Save' : 'Add the wall'"
    :busy="site.busy.value"
    :faults="faults"
    wide
    @close="$emit('close')"
    @save="save"
  >
    <div class="grid grid-cols-2 gap-3 sm:grid-cols-4">
      <TextField v-model="form.fromX" label="From, x m" number />
      <TextField v-model="form.fromY" label="From, y m" number />
      <TextField v-model="form.toX" label="To, x m" number />
      <TextField v-model="form.toY" label="To, y m" number />
      <FormField v-slot="{ id }" label="Of"
        ><SelectBox :id="id" v-model="form.material" :options="materials" label="Of" class="w-full"
      /></FormField>
      <TextField
        v-model="form.thicknessMetres"
        label="Thickness, m"
        field="wall.thicknessMetres"
        number
        hint="Empty: as usual."
      />
      <FormField v-if="floors.length" v-slot="{ id }" label="Floor"
        ><SelectBox :id="id" v-model="form.floor" :options="floors" label="Floor"
      /></FormField>
    </div>
    <fieldset v-for="(o, i) in form.openings" :key="i" class="border-t border-rule pt-2">
      <legend class="sr-only">Opening {{ i + 1 }}</legend>
      <div class="grid grid-cols-2 items-start gap-3 sm:grid-cols-6">
        <FormField v-slot="{ id }" label="Opening"
          ><SelectBox :id="id" v-model="o.kind" :options="kinds" label="Opening"
        /></FormField>
        <MetresField v-model="o.atMetres" label="Begins at, m" :field="`wall.openings.${i}.atMetres`" />
        <MetresField v-model="o.widthMetres" label="Width, m" :field="`wall.openings.${i}.widthMetres`" />
        <MetresField v-model="o.sillMetres" label="Sill, m" :field="`wall.openings.${i}.sillMetres`" />
        <MetresField v-model="o.heightMetres" label="Height, m" :field="`wall.openings.${i}.heightMetres`" />
        <AppButton kind="bare" class="mt-6" :aria-label="`Remove opening ${i + 1}`" @click="form.openings.splice(i, 1)"
          >Remove</AppButton
        >
      </div>
    </fieldset>
    <div class="flex gap-2">
      <AppButton @click="form.openings.push({ ...site.usual.value.door })">Add a door</AppButton>
      <AppButton @click="form.openings.push({ ...site.usual.value.window })">Add a window</AppButton>
    </div>
    <p class="text-sm text-faint">
      Openings are measured from the start of the wall. Metal in a wall, foil or steel, takes more than its material says.
    </p>
  </DialogForm>
</template>
