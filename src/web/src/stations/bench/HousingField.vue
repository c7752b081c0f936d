<script setup lang="ts">
/** The box of a node: what it lets in, and whether the antenna is shut in metal. */
import { computed } from "vue";
import type { NodeDesign } from "@/api/client";
import CheckBox from "@/kit/CheckBox.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";

type Housing = NonNullable<NodeDesign["housing"]>;
const housing = defineModel<Housing | null>({ required: true });
const housings = [
  { value: "open", label: "open, no box" },
  { value: "vented", label: "vented box" },
  { value: "closed", label: "closed box" },
  { value: "sealed", label: "sealed box" },
];

const kind = computed({
  get: () => {
    const h = housing.value;
    return !h ? "open" : h.vented ? "vented" : h.sealed ? "sealed" : "closed";
  },
  set: (to) => {
    const { clearLid = false, antennaInMetal = false } = housing.value ?? {};
    housing.value = to === "open" ? null : { vented: to === "vented", sealed: to === "sealed", clearLid, antennaInMetal };
  },
});
const flag = (name: "clearLid" | "antennaInMetal") =>
  computed({
    get: () => housing.value?.[name] ?? false,
    set: (on: boolean) => housing.value && (housing.value = { ...housing.value, [name]: on }),
  });
const clearLid = flag("clearLid");
const antennaInMetal = flag("antennaInMetal");
</script>

<template>
  <div class="flex flex-wrap items-end gap-x-6 gap-y-2">
    <FormField v-slot="{ id }" label="Box"><SelectBox :id="id" v-model="kind" :options="housings" label="Box" /></FormField>
    <template v-if="housing">
      <CheckBox v-model="clearLid" label="Its lid lets light in" />
      <CheckBox v-model="antennaInMetal" label="Of metal, antenna inside: takes 15 to 30 dB" />
    </template>
  </div>
</template>
