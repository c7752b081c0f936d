<script setup lang="ts">
/** What range walks and everyday arrivals made of the book values, and each place that was measured. */
import type { FittedModel } from "@/api/client";
import FigureView from "@/kit/FigureView.vue";
import { bandText } from "@/kit/format";

defineProps<{ fit: FittedModel }>();
/** What was found: the exponent, then each kind of wall and each receiver beyond what the book says. */
const found = (fit: FittedModel) => [
  { name: "Exponent of distance", figure: fit.exponent },
  ...fit.losses.map((l) => ({ name: `${l.kind[0]!.toUpperCase()}${l.kind.slice(1)}, beyond the book`, figure: l.extra })),
  ...fit.offsets.map((o) => ({ name: `${o.label} hears, beyond the book`, figure: o.offset })),
];
</script>

<template>
  <section class="mt-5" :aria-label="`What was measured, ${fit.band}`">
    <h2 class="mb-1 text-lg font-semibold">What was measured, {{ fit.band }}</h2>
    <p class="mb-2 max-w-3xl text-sm text-faint">
      {{ fit.measured.length }} places; the links above are planned with what they showed, and spread about it by
      <FigureView :figure="fit.sigma" />.
    </p>
    <div class="grid grid-cols-1 gap-6 2xl:grid-cols-2">
      <table class="grid-table">
        <thead>
          <tr>
            <th>Found</th>
            <th class="text-right">Value</th>
            <th class="text-right">95 of 100</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="f in found(fit)" :key="f.name">
            <td>{{ f.name }}</td>
            <td class="text-right"><FigureView :figure="f.figure" /></td>
            <td class="mono text-right whitespace-nowrap text-faint">{{ bandText(f.figure) }}</td>
          </tr>
        </tbody>
      </table>
      <table class="grid-table">
        <thead>
          <tr>
            <th>Measured at</th>
            <th class="text-right">Signal</th>
            <th class="text-right">Book</th>
            <th class="text-right">Fit</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="m in fit.measured" :key="`${m.node} ${m.spot}`" :data-measured="`${m.node} ${m.spot}`">
            <td>
              {{ m.spot
              }}<span class="block text-sm" :class="m.stands ? 'text-faint' : 'text-risk'">{{
                m.stands ? `${m.label} to ${m.receiver}` : `${m.label} to ${m.receiver}: far from all others, counted less`
              }}</span>
            </td>
            <td class="mono text-right whitespace-nowrap">{{ m.signalDbm.toFixed(0) }} dBm</td>
            <td class="mono text-right whitespace-nowrap text-faint">{{ m.bookDbm.toFixed(0) }} dBm</td>
            <td class="mono text-right whitespace-nowrap">{{ m.fittedDbm.toFixed(0) }} dBm</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
