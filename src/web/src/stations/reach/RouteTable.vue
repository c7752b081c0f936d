<script setup lang="ts">
/** Over whom each node's messages reach a gateway, and what the relays among them carry. */
import type { PlannedRelay, PlannedRoute, RelayPlan } from "@/api/client";
import FigureView from "@/kit/FigureView.vue";

defineProps<{ relays: RelayPlan }>();
const looked = defineModel<string>("looked");
const names = (stops: { label: string }[]) => stops.map((s) => s.label).join(", ");
const way = (stops: { label: string }[]) => stops.map((s) => s.label).join(" → ");
const told = (r: PlannedRoute) =>
  !r.over.length
    ? "nobody hears it"
    : !r.arrives
      ? "ends before a gateway"
      : r.isBest
        ? ""
        : r.best.length
          ? `better: ${way(r.best)}`
          : "does not come through";
const falls = (r: PlannedRelay) =>
  r.onlyWayOf.length
    ? `without it ${names(r.onlyWayOf)} reach${r.onlyWayOf.length === 1 ? "es" : ""} no gateway`
    : "each has another way";
</script>

<template>
  <section class="mt-6" aria-label="Ways to a gateway">
    <h2 class="mb-1 text-lg font-semibold">Ways to a gateway</h2>
    <div class="overflow-x-auto">
      <table class="grid-table" aria-label="Ways">
        <thead>
          <tr>
            <th>Node</th>
            <th>Over</th>
            <th class="text-right">Transmissions</th>
            <th class="text-right">Delivered</th>
            <th class="hidden text-right sm:table-cell">Of the best way</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="r in relays.routes"
            :key="r.node"
            :data-route="r.node"
            :class="looked === r.node ? 'bg-paper' : ''"
            @mouseenter="looked = r.node"
          >
            <td>{{ r.label }}</td>
            <td>
              {{ way(r.over) }}<span v-if="told(r)" class="block text-sm text-risk">{{ told(r) }}</span>
            </td>
            <td class="text-right"><FigureView :figure="r.transmissions" /></td>
            <td class="text-right"><FigureView :figure="r.delivered" /></td>
            <td class="hidden text-right sm:table-cell"><FigureView :figure="r.bestTransmissions" /></td>
          </tr>
        </tbody>
      </table>
    </div>
    <ul v-if="relays.relays.length" class="mt-2 max-w-3xl divide-y divide-rule" aria-label="Relays">
      <li v-for="r in relays.relays" :key="r.node" class="py-2" :data-relay="r.node">
        <span class="font-semibold">{{ r.label }}</span> passes on {{ names(r.passesOn) }}: <FigureView :figure="r.perDay" />;
        <span :class="r.onlyWayOf.length ? 'text-risk' : 'text-faint'">{{ falls(r) }}</span><template v-if="r.life">
          . Its cells last <FigureView :figure="r.life" /><template v-if="r.lifeAlone">
            instead of <FigureView :figure="r.lifeAlone" /></template></template
        >.
      </li>
    </ul>
    <p class="mt-2 max-w-3xl text-sm text-faint">
      Transmissions until a message is there and each hop knows so. What is fed all the time may relay; a node on cells only when
      it is told to at the Bench, since its radio then listens all the time.
    </p>
  </section>
</template>
