<script setup lang="ts">
/** In the margin: why a wire is on its pin, what the next best plan costs, and where else it could go. */
import { computed, ref, watch } from "vue";
import type { NodeDesign, PlannedLine, WireChoices } from "@/api/client";
import FigureView from "@/kit/FigureView.vue";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import SelectBox from "@/kit/SelectBox.vue";

const props = defineProps<{
  wire: PlannedLine;
  choices: WireChoices;
  node: NodeDesign;
  hold: (wire: PlannedLine, pin: string, how: "locked" | "soldered") => Promise<void>;
  release: (wire: PlannedLine) => Promise<void>;
}>();
const site = useSite();
const board = computed(() => site.catalogue.value?.boards.find((b) => b.id === props.node.board));
const name = (pin: string | null | undefined) => {
  const p = board.value?.pins.find((i) => i.id === pin);
  return p ? (p.gpio === null ? p.label : `GPIO${p.gpio}`) : (pin ?? "").replace(":", " ");
};
const fit = computed(() => props.choices.offers.filter((o) => o.fits));
const options = computed(() =>
  fit.value.map((o) => ({
    value: o.pin,
    label: name(o.pin) + (o.takenBy ? `, now ${o.takenBy}` : o.hazardPoints ? ", second choice" : ""),
  })),
);
const target = ref(props.wire.pin);
watch(
  () => props.wire.pin,
  (pin) => (target.value = pin),
);
const parts: { key: keyof NonNullable<WireChoices["cost"]>; one: string; word: string }[] = [
  { key: "movedWires", one: "soldered wire to move", word: "soldered wires to move" },
  { key: "components", one: "more component", word: "more components" },
  { key: "hazardPoints", one: "hazard point", word: "hazard points" },
  { key: "splices", one: "splice", word: "splices" },
  { key: "versatility", one: "point for a pin that others need more", word: "points for pins that others need more" },
  { key: "distance", one: "half row of distance", word: "half rows of distance" },
];
const second = computed(() => {
  const [a, b] = [props.choices.cost, props.choices.runnerUpCost];
  if (!a || !b) return "There is no other plan with this pin left out.";
  const first = parts.find((p) => b[p.key] !== a[p.key]);
  if (!first) return `The next best is ${name(props.choices.runnerUpPin)}, which would do just as well.`;
  const by = (b[first.key] ?? 0) - (a[first.key] ?? 0);
  return `The next best is ${name(props.choices.runnerUpPin)}; the whole plan then costs ${by} ${by === 1 ? first.one : first.word}.`;
});
</script>

<template>
  <div class="flex flex-col gap-2">
    <p>
      <span class="mono font-semibold">{{ wire.pinName }}</span>{{ wire.pin.includes(":") ? "" : ` (${wire.pin})` }},
      {{ wire.colour }} wire
    </p>
    <p class="text-sm">{{ wire.reason }}</p>
    <p v-if="wire.busLine" class="text-sm">On the board it is {{ wire.busLine }}.</p>
    <p v-if="wire.highMargin" class="text-sm">{{ wire.highMargin.label }}: <FigureView :figure="wire.highMargin" /></p>
    <template v-if="wire.kind === 'bus' || wire.kind === 'signal'">
      <p class="text-sm text-faint">{{ second }}</p>
      <template v-if="site.canWrite.value">
        <SelectBox v-model="target" :options="options" label="Pin" />
        <div class="flex flex-wrap gap-1.5">
          <AppButton small :disabled="wire.hold === 'locked' && target === wire.pin" @click="hold(wire, target, 'locked')"
            >Fix it there</AppButton
          >
          <AppButton v-if="target === wire.pin && wire.hold !== 'soldered'" small @click="hold(wire, wire.pin, 'soldered')"
            >It is soldered</AppButton
          >
          <AppButton v-if="wire.hold" small @click="release(wire)">{{
            wire.hold === "soldered" ? "It is not soldered" : "Let the planner choose"
          }}</AppButton>
        </div>
      </template>
      <details class="text-sm">
        <summary class="cursor-pointer text-act">Why not the other pins</summary>
        <ul class="mt-1 flex flex-col gap-1">
          <li v-for="o in choices.offers.filter((c) => !c.fits && name(c.pin).startsWith('GPIO'))" :key="o.pin">
            <span class="mono">{{ o.pin }}</span> {{ o.refusals.join(" ") }}
          </li>
        </ul>
      </details>
    </template>
  </div>
</template>
