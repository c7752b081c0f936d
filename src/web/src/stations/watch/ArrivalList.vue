<script setup lang="ts">
/** The last messages of a node: what came with each, and its bytes beside what they said. */
import { computed, ref } from "vue";
import type { ArrivalView } from "@/api/client";
import { moment, seconds } from "@/kit/format";

const props = defineProps<{ arrivals: ArrivalView[]; zone: string; unit: (reading: string) => string }>();
const shown = computed(() => props.arrivals.slice(0, 8));
const told = (what: "rssi" | "battery") => shown.value.some((a) => a[what] !== null);
/** The open one, by what does not change when others come. */
const open = ref<string>();
const keyOf = (a: ArrivalView) => `${a.receivedMs} ${a.boot} ${a.number}`;
/** Hexadecimal in groups of eight bytes. */
const grouped = (hex: string) =>
  hex
    .replace(/(..)/g, "$1 ")
    .replace(/((?:.. ){8})/g, "$1 ")
    .trim();
</script>

<template>
  <p v-if="!arrivals.length" class="text-faint">Nothing came yet.</p>
  <div v-else class="overflow-x-auto">
    <table class="grid-table">
      <thead>
        <tr>
          <th>Received</th>
          <th class="text-right">Number</th>
          <th class="text-right">Bytes</th>
          <th v-if="told('rssi')" class="text-right">Signal</th>
          <th v-if="told('battery')" class="text-right">Battery</th>
          <th>Said</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="a in shown" :key="keyOf(a)">
          <tr>
            <td class="mono whitespace-nowrap">{{ moment(a.receivedMs, zone, true) }}</td>
            <td class="mono text-right">{{ a.number ?? "none" }}</td>
            <td class="mono text-right whitespace-nowrap">{{ a.bytes }} B</td>
            <td v-if="told('rssi')" class="mono text-right whitespace-nowrap">
              {{ a.rssi === null ? "none" : `${a.rssi} dBm` }}
            </td>
            <td v-if="told('battery')" class="mono text-right whitespace-nowrap">
              {{ a.battery === null ? "none" : `${a.battery} V` }}
            </td>
            <td>
              <button
                type="button"
                class="min-h-8 text-left text-act hover:underline"
                :aria-expanded="open === keyOf(a)"
                @click="open = open === keyOf(a) ? undefined : keyOf(a)"
              >
                {{ a.values.length === 0 ? "nothing new" : a.values.length === 1 ? "1 value" : `${a.values.length} values` }}
              </button>
            </td>
          </tr>
          <tr v-if="open === keyOf(a)">
            <td :colspan="6">
              <ul class="mb-1 flex flex-wrap gap-x-5 gap-y-0.5">
                <li v-for="(v, at) in a.values" :key="at">
                  {{ v.reading }} <span class="mono">{{ v.value }} {{ unit(v.reading) }}</span>
                  <span class="mono ml-1.5 text-sm text-faint">{{ moment(v.t, zone) }}</span><span
                    v-if="v.flags & 8"
                    class="text-sm"
                  >
                    fault value</span
                  ><span v-if="v.flags & 1" class="text-sm text-faint"> late</span
                  ><span v-if="v.flags & 2" class="text-sm text-faint"> time of arrival</span>
                </li>
                <li v-if="!a.values.length" class="text-faint">Nothing in it was new, or it told only of the node itself.</li>
              </ul>
              <p v-if="a.correctionMs !== null" class="text-sm text-faint">
                <span class="mono">{{ seconds(a.correctionMs) }}</span> were taken off its times.
              </p>
              <pre
                v-if="a.text !== null"
                class="mono overflow-x-auto border border-rule bg-paper p-2 text-sm whitespace-pre-wrap break-all"
                tabindex="0"
                >{{ a.text }}</pre>
              <pre
                v-else-if="a.hex !== null"
                class="mono overflow-x-auto border border-rule bg-paper p-2 text-sm whitespace-pre-wrap"
                tabindex="0"
                >{{ grouped(a.hex) }}</pre>
              <p v-else class="text-sm text-faint">Its bytes are not kept: it came before the server started.</p>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>
