<script setup lang="ts">
/** The page of a part: what it measures, how it is connected, what it draws, what to mind, and where each value comes from. */
import { computed } from "vue";
import type { Part } from "@/api/client";
import { number } from "@/kit/format";

const props = defineProps<{ part: Part }>();
type Fact = NonNullable<Part["sleepMicroamps"]>;
const trust: Record<string, string> = {
  dataSheet: "data sheet",
  typical: "usual modules",
  prudent: "planning value",
  measured: "measured",
};
const band = (f: Fact) => {
  const all = [f.min, f.typ, f.max].filter((v): v is number => v !== null && v !== undefined);
  const [low, high] = [Math.min(...all), Math.max(...all)];
  return low === high ? number(low) : `${number(low)} to ${number(high)}`;
};
const facts = computed(() =>
  (
    [
      ["Draws at rest", props.part.sleepMicroamps, "µA"],
      ["Draws at work", props.part.activeMilliamps, "mA"],
      ["Greatest, short", props.part.peakMilliamps, "mA"],
      ["Warm-up", props.part.warmUpMs, "ms"],
      ["One measurement", props.part.conversionMs, "ms"],
      ["Shortest interval", props.part.minIntervalMs, "ms"],
      ["Pull-ups fitted", props.part.pullUpOhms, "Ω"],
      ["Capacitor at its supply", props.part.bulkMicrofarads, "µF"],
    ] as [string, Fact | null | undefined, string][]
  ).map(([label, fact, unit]) => ({
    label,
    text: fact ? `${band(fact)} ${unit}` : "not known",
    source: fact
      ? fact.source.includes(trust[fact.confidence] ?? "")
        ? fact.source
        : `${fact.source} (${trust[fact.confidence]})`
      : "",
  })),
);
const hex = (a: number) => "0x" + a.toString(16).toUpperCase().padStart(2, "0");
</script>

<template>
  <div class="flex flex-col gap-3">
    <table v-if="part.quantities.length" class="grid-table">
      <tbody>
        <tr v-for="q in part.quantities" :key="q.quantity">
          <td>{{ q.quantity }}</td>
          <td class="mono">{{ q.min ?? "" }}{{ q.max != null ? ` to ${q.max}` : "" }} {{ q.unit }}</td>
          <td>{{ q.accuracy }}</td>
        </tr>
      </tbody>
    </table>
    <div>
      <h3 class="caps">Connected by</h3>
      <p v-for="i in part.interfaces" :key="i.label">
        {{ i.label }}: <span class="mono">{{ i.lines.map((l) => l.name + (l.optional ? "?" : "")).join(" ") }}</span> {{ " "
        }}<span v-if="i.addresses?.length" class="mono text-sm text-faint">
          {{
            i.addresses
              .slice(0, 8)
              .map((a) => hex(a.address))
              .join(" ")
          }}</span
        >
        <span v-if="i.maxKilohertz" class="text-sm text-faint">, to {{ i.maxKilohertz }} kHz</span>
      </p>
      <p class="text-sm text-faint">
        Pins as printed: <span class="mono">{{ part.pins.join(" ") }}</span><template v-if="part.supplyMinVolts != null"
          >; supply {{ part.supplyMinVolts }} to {{ part.supplyMaxVolts }} V</template
        >
      </p>
    </div>
    <table class="grid-table">
      <tbody>
        <tr v-for="f in facts" :key="f.label">
          <td>{{ f.label }}</td>
          <td class="mono text-right whitespace-nowrap" :class="f.source ? '' : 'text-faint'">{{ f.text }}</td>
          <td class="text-sm text-faint">{{ f.source }}</td>
        </tr>
      </tbody>
    </table>
    <p v-for="c in part.cautions" :key="c" class="border-l-2 border-risk pl-2">{{ c }}</p>
    <p v-if="part.needs.length"><span class="caps">Needs</span> {{ part.needs.join("; ") }}</p>
    <p v-if="part.placement.length"><span class="caps">Where to put it</span> {{ part.placement.join("; ") }}</p>
    <p v-for="f in part.faults" :key="f.meaning" class="text-sm">
      <span class="mono">{{ f.quantity }} {{ f.value }}</span> means: {{ f.meaning }}
    </p>
    <p class="text-sm text-faint">{{ part.source }}</p>
  </div>
</template>
