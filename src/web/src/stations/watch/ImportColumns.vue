<script setup lang="ts">
/** The first rows of a table, and over each column what it is. */
import { computed } from "vue";
import type { CsvLayout, ImportView } from "@/api/client";
import { useSite } from "@/app/site";
import CheckBox from "@/kit/CheckBox.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";

export interface TableForm {
  decimalComma: boolean;
  timeColumn: number;
  time: NonNullable<CsvLayout["time"]>;
  /** The reading of a column as "node/key". */
  columns: Record<number, string>;
  ended: string;
}

const form = defineModel<TableForm>({ required: true });
const props = defineProps<{ guess: ImportView["guess"] }>();
const site = useSite();
const times: { value: NonNullable<CsvLayout["time"]>; label: string }[] = [
  { value: "iso8601", label: "2026-11-25 14:30:00" },
  { value: "dayMonthYear", label: "25.11.2026 14:30, day first" },
  { value: "monthDayYear", label: "11/25/2026 14:30, month first" },
  { value: "unixSeconds", label: "seconds since 1970" },
  { value: "unixMilliseconds", label: "milliseconds since 1970" },
  { value: "secondsSinceStart", label: "seconds since the node started" },
  { value: "millisecondsSinceStart", label: "milliseconds since the node started" },
];
const separators: Record<string, string> = { ",": "comma", ";": "semicolon", "\t": "tab", "|": "bar" };
const zone = computed(() => site.design.value?.settings.timeZone ?? "Etc/UTC");
const options = computed(() => [
  { value: "", label: "leave out" },
  { value: "time", label: "the time" },
  ...(site.design.value?.nodes ?? []).flatMap((n) =>
    n.readings.map((r) => ({ value: `${n.key}/${r.key}`, label: `${n.label}: ${r.label}` })),
  ),
]);
const since = computed(() => form.value.time.endsWith("SinceStart"));
const roleOf = (at: number) => (form.value.timeColumn === at ? "time" : (form.value.columns[at] ?? ""));

function set(at: number, role: string) {
  const columns = { ...form.value.columns };
  delete columns[at];
  if (role === "time") form.value = { ...form.value, timeColumn: at, columns };
  else {
    if (role) columns[at] = role;
    form.value = { ...form.value, columns, timeColumn: form.value.timeColumn === at ? -1 : form.value.timeColumn };
  }
}
</script>

<template>
  <div class="flex flex-col gap-3">
    <p>
      A {{ separators[props.guess.separator] ?? props.guess.separator }} between the columns{{
        props.guess.hasHeader ? ", headings in the first row" : ", no headings"
      }}.
    </p>
    <div class="flex flex-wrap items-end gap-x-4 gap-y-2">
      <FormField v-slot="{ id }" label="Times are written">
        <SelectBox :id="id" v-model="form.time" label="Times are written" :options="times" />
      </FormField>
      <FormField v-if="since" v-slot="{ id }" label="The last row was written at">
        <input :id="id" v-model="form.ended" type="datetime-local" step="1" class="field" />
      </FormField>
      <p v-else-if="!form.time.startsWith('unix')" class="pb-2 text-sm text-faint">
        Without an offset they are taken in {{ zone }}.
      </p>
    </div>
    <CheckBox v-model="form.decimalComma" label="A comma stands before the decimals: 21,5" />
    <p v-if="since" class="text-sm text-faint">
      The node had no clock. Its last run is placed before that moment, each earlier one before the next: how long it was off is
      not known.
    </p>
    <div class="min-h-80 overflow-x-auto">
      <table class="grid-table">
        <thead>
          <tr>
            <th v-for="(h, at) in props.guess.headers" :key="at" class="align-bottom">
              <span class="block max-w-44 overflow-hidden text-ellipsis">{{ h }}</span>
              <SelectBox
                :model-value="roleOf(at)"
                :label="`Column ${at + 1}`"
                :options="options"
                @update:model-value="set(at, $event)"
              />
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, n) in props.guess.rows" :key="n">
            <td v-for="(cell, at) in row" :key="at" class="mono text-sm" :class="roleOf(at) ? '' : 'text-faint'">{{ cell }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>
