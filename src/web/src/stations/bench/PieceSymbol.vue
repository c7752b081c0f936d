<script setup lang="ts">
/** One component as its symbol (IEC 60617 shapes), each terminal with the label of its net. */
import { computed } from "vue";
import type { BenchPlan } from "@/api/client";

type Component = BenchPlan["circuit"]["components"][number];
const props = defineProps<{ component: Component; netLabel: (key: string | null) => string }>();
const net = (terminal: string) => props.netLabel(props.component.terminals.find((t) => t.name === terminal)?.net ?? null);
const short = (text: string, n = 20) => (text.length > n ? text.slice(0, n - 1) + "…" : text);
const kind = computed(() => props.component.kind);
const across = computed(() =>
  kind.value === "capacitor"
    ? ["+", "-"]
    : kind.value === "diode" || kind.value === "clamp"
      ? ["A", "K"]
      : ["resistor", "fuse"].includes(kind.value)
        ? ["1", "2"]
        : undefined,
);
const three = computed(() =>
  kind.value === "npn" ? ["B", "C", "E"] : ["nMosfet", "pMosfet"].includes(kind.value) ? ["G", "D", "S"] : undefined,
);
const named = computed(() => props.component.terminals.filter((t) => t.net));
const height = computed(() => (across.value ? 58 : three.value ? 92 : 26 + named.value.length * 16));
const spoken = computed(
  () => `${props.component.label}: ${named.value.map((t) => `${t.name} to ${props.netLabel(t.net)}`).join(", ")}`,
);
</script>

<template>
  <svg
    :viewBox="`0 0 ${across || three ? 320 : 240} ${height}`"
    class="block max-w-full"
    :class="across || three ? 'w-80' : 'w-60'"
    role="img"
    :aria-label="spoken"
    font-size="11"
  >
    <g v-if="across" transform="translate(40 0)" fill="none" stroke="var(--ink)" stroke-width="1.5">
      <path d="M40 30H95M145 30H200" />
      <rect v-if="kind === 'resistor' || kind === 'fuse'" x="95" y="23" width="50" height="14" />
      <path v-if="kind === 'fuse'" d="M95 30h50" />
      <path v-if="kind === 'capacitor'" d="M95 30h21M124 30h21M116 18v24M124 18v24" />
      <path v-if="kind === 'diode' || kind === 'clamp'" d="M95 30h12M107 20v20l22-10zM129 20v20M129 30h16" />
      <path v-if="kind === 'clamp'" d="M129 20h5M129 40h-5" />
    </g>
    <g v-if="three" transform="translate(46 0)" fill="none" stroke="var(--ink)" stroke-width="1.5">
      <circle cx="120" cy="46" r="20" />
      <path v-if="kind === 'npn'" d="M50 46h64M114 34v24M114 42l14-10V8M114 50l14 10V84M122 56l6 4-2-7" />
      <path v-else d="M50 46h60M110 36v20M116 34v6M116 43v6M116 52v6M116 37h12V8M116 55h12V84M116 46h12v9" />
    </g>
    <g v-if="!across && !three" fill="none" stroke="var(--ink)" stroke-width="1.5">
      <rect x="1" y="18" width="60" :height="height - 22" />
    </g>
    <g fill="var(--ink)">
      <text x="160" y="13" text-anchor="middle" font-weight="600" v-if="across">{{ component.value }}</text>
      <text x="194" y="50" font-weight="600" v-if="three">{{ component.value }}</text>
      <text x="1" y="13" font-weight="600" v-if="!across && !three">{{ short(component.label, 36) }}</text>
    </g>
    <g v-if="across" fill="var(--clay)">
      <text x="2" y="54">{{ short(net(across[0]!), 28) }}</text>
      <text x="318" y="54" text-anchor="end">{{ short(net(across[1]!), 28) }}</text>
    </g>
    <g v-if="three" fill="var(--clay)">
      <text x="2" y="40">{{ short(net(three[0]!), 26) }}</text>
      <text x="184" y="14">{{ short(net(three[1]!), 24) }}</text>
      <text x="184" y="90">{{ short(net(three[2]!), 24) }}</text>
    </g>
    <g v-if="!across && !three">
      <template v-for="(t, at) in named" :key="t.name">
        <path :d="`M61 ${30 + at * 16}h14`" stroke="var(--ink)" stroke-width="1.5" />
        <text x="5" :y="34 + at * 16" class="mono" fill="var(--ink)">{{ t.name }}</text>
        <text x="80" :y="34 + at * 16" fill="var(--clay)">{{ short(netLabel(t.net), 26) }}</text>
      </template>
    </g>
  </svg>
</template>
