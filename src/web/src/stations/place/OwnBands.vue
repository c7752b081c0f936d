<script setup lang="ts">
/** The radio bands of a region of one's own, as its rules say. */
import AppButton from "@/kit/AppButton.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import { emptyBand, type TypedBand } from "./own-bands";

const bands = defineModel<TypedBand[]>({ required: true });
const references = [
  { value: "isotropic" as const, label: "e.i.r.p." },
  { value: "effective" as const, label: "e.r.p." },
];
</script>

<template>
  <div class="space-y-3">
    <p class="text-sm text-faint">Type what your country's rules say of the bands you use. Local law comes first.</p>
    <fieldset v-for="(b, i) in bands" :key="i" class="border-t border-rule pt-2">
      <legend class="sr-only">Band {{ i + 1 }}</legend>
      <div class="grid grid-cols-2 items-start gap-3 sm:grid-cols-4">
        <TextField v-model="b.lowMegahertz" label="From, MHz" :field="`settings.ownBands.${i}.lowMegahertz`" number />
        <TextField v-model="b.highMegahertz" label="To, MHz" :field="`settings.ownBands.${i}.highMegahertz`" number />
        <TextField v-model="b.mostDbm" label="Power at most, dBm" :field="`settings.ownBands.${i}.mostDbm`" number />
        <FormField v-slot="{ id }" label="Measured as"
          ><SelectBox :id="id" v-model="b.power" :options="references" label="Measured as" class="w-full"
        /></FormField>
        <TextField
          v-model="b.dutyPercent"
          label="On the air, % of an hour"
          :field="`settings.ownBands.${i}.dutyPercent`"
          number
          hint="Empty: no limit."
        />
        <TextField
          v-model="b.longestMs"
          label="Longest message, ms"
          :field="`settings.ownBands.${i}.longestMs`"
          number
          hint="Empty: no limit."
        />
        <TextField v-model="b.source" label="Rule" :field="`settings.ownBands.${i}.source`" hint="Where it stands." />
        <AppButton kind="bare" class="mt-6" :aria-label="`Remove band ${i + 1}`" @click="bands.splice(i, 1)">Remove</AppButton>
      </div>
    </fieldset>
    <AppButton @click="bands.push(emptyBand())">Add a band</AppButton>
  </div>
</template>
