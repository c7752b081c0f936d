<script setup lang="ts">
/** The numbers of a frame in their order: which reading each is, and how it is written. */
import { computed } from "vue";
import type { FrameField, FrameFormat } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import SelectBox from "@/kit/SelectBox.vue";

export interface FieldRow {
  reading: string;
  letter: string;
  number: NonNullable<FrameField["number"]>;
  scale: number | string;
  offset: number | string;
}

const rows = defineModel<FieldRow[]>({ required: true });
const props = defineProps<{ kind: FrameFormat["kind"] }>();
const site = useSite();
const readings = computed(() =>
  (site.design.value?.nodes ?? []).flatMap((n) =>
    n.readings.map((r) => ({ value: `${n.key}/${r.key}`, label: `${n.label}: ${r.label}` })),
  ),
);
const names: Record<FieldRow["number"], string> = {
  u8: "8 bits, 0 up",
  i8: "8 bits, signed",
  u16Le: "16 bits, 0 up, low byte first",
  u16Be: "16 bits, 0 up, high byte first",
  i16Le: "16 bits, signed, low byte first",
  i16Be: "16 bits, signed, high byte first",
  u32Le: "32 bits, 0 up, low byte first",
  u32Be: "32 bits, 0 up, high byte first",
  i32Le: "32 bits, signed, low byte first",
  i32Be: "32 bits, signed, high byte first",
  f32Le: "float, low byte first",
  f32Be: "float, high byte first",
};
const numbers = Object.entries(names).map(([value, label]) => ({ value: value as FieldRow["number"], label }));
const single = computed(() => props.kind === "valuePerLine");

function add() {
  const taken = new Set(rows.value.map((r) => r.reading));
  const reading = readings.value.find((r) => !taken.has(r.value))?.value ?? "";
  rows.value = [...rows.value, { reading, letter: "", number: "i16Be", scale: 1, offset: 0 }];
}
</script>

<template>
  <div>
    <h3 class="mb-1 font-semibold">{{ single ? "Its number" : "Its numbers, in order" }}</h3>
    <p v-if="!rows.length" class="text-faint">Say which reading {{ single ? "the number is" : "each number is" }}.</p>
    <ol class="flex flex-col gap-2">
      <li v-for="(row, at) in rows" :key="at" class="flex flex-wrap items-end gap-2">
        <SelectBox v-model="row.reading" :label="`Reading ${at + 1}`" :options="readings" />
        <SelectBox v-if="kind === 'binary'" v-model="row.number" :label="`Number ${at + 1}`" :options="numbers" />
        <label v-if="kind === 'letteredValues'" class="text-sm"
          >letter <input v-model="row.letter" maxlength="1" class="field mono w-12" :aria-label="`Letter ${at + 1}`"
        /></label>
        <label class="text-sm"
          >× <input v-model="row.scale" class="field mono w-20" inputmode="decimal" :aria-label="`Scale ${at + 1}`"
        /></label>
        <label class="text-sm"
          >+ <input v-model="row.offset" class="field mono w-20" inputmode="decimal" :aria-label="`Offset ${at + 1}`"
        /></label>
        <AppButton kind="bare" small @click="rows = rows.filter((_, n) => n !== at)">Leave out {{ at + 1 }}</AppButton>
      </li>
    </ol>
    <AppButton v-if="!single || !rows.length" small class="mt-2" @click="add">Add a number</AppButton>
  </div>
</template>
