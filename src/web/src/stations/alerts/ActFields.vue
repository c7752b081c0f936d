<script setup lang="ts">
/** Outputs that a rule switches. */
import { computed } from "vue";
import type { ActDesign } from "@/api/client";
import { useSite } from "@/app/site";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import { exactDuration } from "@/kit/format";

const acts = defineModel<ActDesign[]>({ required: true });
const site = useSite();
const outputs = computed(() =>
  (site.design.value?.nodes ?? []).flatMap((n) =>
    n.readings
      .filter((r) => r.output)
      .map((r) => ({ node: n.key, output: r.key, label: `${r.label} (${n.label})`, most: r.output!.maxOnMs })),
  ),
);
const does = [
  { value: "", label: "is left alone" },
  { value: "raised", label: "is on while it is raised" },
  { value: "calm", label: "is permitted while all is well" },
];
const of = (o: { node: string; output: string }) =>
  acts.value.find((a) => a.node === o.node && a.output === o.output)?.while ?? "";

function set(o: { node: string; output: string }, to: string | null | undefined | number) {
  const others = acts.value.filter((a) => a.node !== o.node || a.output !== o.output);
  acts.value = to ? [...others, { node: o.node, output: o.output, while: to as ActDesign["while"], forMs: null }] : others;
}
</script>

<template>
  <fieldset v-if="outputs.length" class="flex flex-col gap-2 border-t border-rule pt-2">
    <legend class="caps">Outputs</legend>
    <FormField
      v-for="o in outputs"
      :key="`${o.node}/${o.output}`"
      v-slot="{ id }"
      :label="`${o.label}, ${exactDuration(o.most)} at most`"
    >
      <SelectBox :id="id" :model-value="of(o)" :options="does" :label="o.label" @update:model-value="set(o, $event)" />
    </FormField>
    <p v-if="acts.length" class="text-sm text-faint">
      The node ends it by itself when this program, its network or its broker is gone. It is no safety limiter of a machine or
      heater.
    </p>
  </fieldset>
</template>
