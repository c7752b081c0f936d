<script setup lang="ts">
/** Outputs with their switches: on is for a time that is chosen here and ends by itself. Who switched what stands below. */
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, sentence, type CommandView, type OutputView } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { duration, moment } from "@/kit/format";
import { say } from "@/kit/notices";
import { useOutputs } from "./outputs";
import { useReadings } from "./readings";

const props = defineProps<{ now: number }>();
const site = useSite();
const queries = useQueryClient();
const { readings } = useReadings(site);
const query = useOutputs(site);
const busy = ref("");
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const isOn = (o: OutputView) => (readings.value.find((r) => r.node === o.node && r.key === o.output)?.newest?.value ?? 0) > 0;
/** True while somebody wants it on. */
const wanted = (o: OutputView) => o.last?.on === true && o.last.ended === null;
const times = (most: number) => [...[60_000, 600_000, 1_800_000].filter((t) => t < most), most];
const loads: Record<string, string> = { other: "something else" };

async function turn(o: OutputView, on: boolean, forMs: number | null) {
  busy.value = `${o.node}/${o.output}`;
  const { data, error } = await api.POST("/api/sites/{site}/outputs/{node}/{output}", {
    params: { path: { site: site.key.value, node: o.node, output: o.output } },
    body: { on, forMs },
  });
  busy.value = "";
  if (!data) say(sentence(error), { bad: true });
  await queries.invalidateQueries({ queryKey: ["outputs"] });
}

/** What is left of it, in whole minutes while there are several. */
function left(c: CommandView) {
  const seconds = Math.max(0, Math.ceil((c.untilMs - props.now) / 1000));
  return seconds > 120 ? `${Math.ceil(seconds / 60)} min` : `${seconds} s`;
}

function answer(c: CommandView) {
  if (c.taken === null) return "no answer yet";
  const took = c.answeredAfterMs!;
  return c.taken ? `obeyed after ${took < 1000 ? `${took} ms` : duration(took)}` : "refused by the node";
}
const label = (c: CommandView) =>
  query.data.value?.outputs.find((o) => o.node === c.node && o.output === c.output)?.label ?? `${c.node}/${c.output}`;
</script>

<template>
  <section v-if="query.data.value?.outputs.length" class="mb-6">
    <h2 class="mb-1 border-b border-rule pb-1 text-lg font-semibold">Outputs</h2>
    <ul class="flex flex-col divide-y divide-rule">
      <li
        v-for="o in query.data.value.outputs"
        :key="`${o.node}/${o.output}`"
        class="grid gap-x-4 gap-y-1 py-2 md:grid-cols-[minmax(0,1fr)_auto]"
        :data-output="`${o.node}/${o.output}`"
      >
        <div class="min-w-0">
          <p class="flex flex-wrap items-baseline gap-x-3">
            <strong>{{ o.label }}</strong>
            <span class="mono text-lg font-semibold" :class="isOn(o) ? 'text-moss' : 'text-faint'">{{
              isOn(o) ? "on" : "off"
            }}</span>
            <span class="text-sm text-faint"
              >{{ o.nodeLabel
              }}<template v-if="o.load"
                >, {{ loads[o.load] ?? `a ${o.load}` }}, on for {{ duration(o.maxOnMs!) }} at most</template
              ></span
            >
          </p>
          <p v-if="wanted(o)" class="text-sm">
            wanted on by {{ o.last!.who }} for <span class="mono">{{ left(o.last!) }}</span> more, {{ answer(o.last!) }}
          </p>
          <p v-if="o.awaitsOff" class="text-sm font-semibold text-risk" role="status">
            Off is ordered, and not yet confirmed by the node; without a word it is off by itself within a minute.
          </p>
          <p v-if="o.waiting.length" class="text-sm text-faint">also wanted on by {{ o.waiting.join(", ") }}</p>
          <p v-if="o.why" class="text-sm text-faint"><SeverityMark severity="note" /> {{ o.why }}</p>
          <p v-else-if="site.canWrite.value" class="text-sm text-faint">{{ o.cautions.join(" ") }}</p>
        </div>
        <div
          v-if="site.canWrite.value && (!o.why || wanted(o))"
          class="flex flex-wrap items-center gap-1.5"
          role="group"
          :aria-label="`Switch ${o.label}`"
        >
          <AppButton
            v-if="wanted(o) || isOn(o)"
            kind="lead"
            class="min-h-11"
            :disabled="busy !== ''"
            :aria-label="`Switch ${o.label} off`"
            @click="turn(o, false, null)"
            >Off</AppButton
          >
          <span v-if="!o.why" class="text-sm text-faint">on for</span>
          <AppButton
            v-for="t in o.why ? [] : times(o.maxOnMs!)"
            :key="t"
            class="min-h-11"
            :disabled="busy !== ''"
            :aria-label="`Switch ${o.label} on for ${duration(t)}`"
            @click="turn(o, true, t)"
            >{{ duration(t) }}</AppButton
          >
        </div>
      </li>
    </ul>
    <details v-if="query.data.value.log.length" class="text-sm">
      <summary class="min-h-8 cursor-pointer text-act">Who switched what</summary>
      <ul class="mt-1 flex max-h-56 flex-col gap-1 overflow-y-auto" tabindex="0" aria-label="Who switched what">
        <li v-for="c in query.data.value.log" :key="c.id">
          <span class="mono text-faint">{{ moment(c.atMs, zone, true) }}</span> {{ c.who }} switched {{ label(c) }}
          {{ c.on ? `on for ${duration(c.forMs ?? 0)}` : "off" }}: {{ answer(c)
          }}<template v-if="c.ended">; over at {{ moment(c.endedMs!, zone) }}, {{ c.ended }}</template>
        </li>
      </ul>
    </details>
    <p v-if="site.canWrite.value" class="mt-1 text-sm text-faint">
      On is told to the node for a minute at a time and renewed; without this program, its network or its broker the node switches
      off by itself. It is no safety limiter of a machine or heater: that stands beside it.
    </p>
  </section>
</template>
