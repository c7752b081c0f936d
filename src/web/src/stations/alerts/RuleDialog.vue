<script setup lang="ts">
/** A rule put together as a sentence, with a preview as it is typed, and tried on the past. */
import { computed, ref } from "vue";
import type { DesignEdit, RuleDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";
import { exactDuration } from "@/kit/format";
import { refOf } from "@/stations/watch/names";
import ActFields from "./ActFields.vue";
import ConditionFields from "./ConditionFields.vue";
import RuleTrial from "./RuleTrial.vue";
import TellFields from "./TellFields.vue";
import { conditionOf, formOf, type ConditionForm } from "./condition";
import { useRuleReadings } from "./rule-readings";
import { ruleSentence } from "./sentence";
import { tellForm, tellOf } from "./tell";

const props = defineProps<{ rule?: RuleDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const { names, readings, events, made, isState, isContact } = useRuleReadings(site);

interface PartForm {
  reading: string;
  condition: ConditionForm;
  faults: Record<string, string>;
}
function firstReading(): string {
  const n = site.design.value?.nodes.find((x) => x.readings.length);
  return n ? `${n.key}/${n.readings[0]!.key}` : "";
}
const parts = ref<PartForm[]>(
  props.rule
    ? [
        { reading: { node: props.rule.node, reading: props.rule.reading }, condition: props.rule.condition },
        ...(props.rule.also ?? []),
      ].map((p) => ({
        reading: `${p.reading.node}/${p.reading.reading}`,
        condition: formOf(p.condition, isState(`${p.reading.node}/${p.reading.reading}`)),
        faults: {},
      }))
    : [{ reading: firstReading(), condition: formOf(undefined, isState(firstReading())), faults: {} }],
);
const join = ref<"all" | "any">(props.rule?.join ?? "all");
const form = ref({ label: props.rule?.label ?? "", note: props.rule?.note ?? "" });
const tell = ref(tellForm(props.rule?.tell));
const acts = ref([...(props.rule?.acts ?? [])]);
const faults = ref<Fault[]>([]);
const unit = (p: PartForm) => names.unit(refOf(p.reading).node, refOf(p.reading).reading);
/** Readings of this rule that are not worked out yet. */
const wanted = computed(() => [...new Set(parts.value.map((p) => p.reading))].flatMap((r) => made(r) ?? []));

const draft = computed<RuleDesign | undefined>(() => {
  const conditions = parts.value.map((p) => conditionOf(p.condition, isContact, p.reading).made);
  if (conditions.some((c) => !c) || parts.value.some((p) => !p.reading)) return undefined;
  const [own, ...also] = parts.value.map((p, i) => ({ reading: refOf(p.reading), condition: conditions[i]! }));
  const key =
    props.rule?.key ??
    keyFrom(
      form.value.label,
      site.design.value!.rules.map((r) => r.key),
    );
  return {
    key,
    label: form.value.label.trim(),
    node: own!.reading.node,
    reading: own!.reading.reading,
    condition: own!.condition,
    note: form.value.note.trim(),
    armed: props.rule?.armed ?? true,
    wantedWithinMs: props.rule?.wantedWithinMs ?? null,
    tell: tellOf(tell.value).made,
    acts: acts.value,
    join: join.value,
    also,
  };
});

/** Another limit; where it is over keeps its distance. */
function take(limit: number) {
  const condition = parts.value[0]!.condition;
  const { first: before, second, what } = condition;
  if ((what === "above" || what === "below") && typeof before === "number" && typeof second === "number")
    condition.second = Number((second + limit - before).toPrecision(6));
  condition.first = limit;
}

async function save() {
  for (const p of parts.value) p.faults = conditionOf(p.condition, isContact, p.reading).faults;
  faults.value = [];
  const wrong = tellOf(tell.value).fault;
  if (wrong) faults.value = [{ says: wrong, field: "rule.tell" }];
  if (!draft.value || wrong) return;
  const edits: DesignEdit[] = [
    ...wanted.value.map((derived) => ({ kind: "putDerived" as const, derived })),
    { kind: "putRule", rule: draft.value },
  ];
  const done = await site.apply(`${draft.value.label} ${props.rule ? "changed" : "added and armed"}`, edits, true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="rule ? rule.label : 'New rule'"
    :save="rule ? 'Save' : 'Add and arm'"
    wide
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <div class="grid gap-x-6 gap-y-3 md:grid-cols-[minmax(0,1.4fr)_minmax(0,1fr)]">
      <div class="flex min-w-0 flex-col gap-3">
        <TextField v-model="form.label" label="Name" field="rule.label" />
        <FormField v-if="parts.length > 1" v-slot="{ id }" label="It raises with"
          ><SelectBox
            :id="id"
            v-model="join"
            :options="[
              { value: 'all' as const, label: 'all of these together' },
              { value: 'any' as const, label: 'any of these' },
            ]"
            label="It raises with"
        /></FormField>
        <div v-for="(p, i) in parts" :key="i" :class="i > 0 ? 'border-t border-rule pt-3' : ''" :data-condition="i + 1">
          <ConditionFields
            v-model:reading="p.reading"
            v-model:condition="p.condition"
            :label="i === 0 ? 'Tell me when' : join === 'any' ? 'or when' : 'and when'"
            :readings="readings"
            :events="events"
            :unit="unit(p)"
            :is-state="isState(p.reading)"
            :faults="p.faults"
            :field="i === 0 ? 'rule.condition' : `rule.also.${i - 1}.condition`"
          />
          <AppButton v-if="i > 0" small kind="bare" @click="parts.splice(i, 1)">Leave this condition out</AppButton>
        </div>
        <div>
          <AppButton
            v-if="parts.length < 6"
            small
            @click="
              parts.push({ reading: parts[0]!.reading, condition: formOf(undefined, isState(parts[0]!.reading)), faults: {} })
            "
            >One condition more</AppButton
          >
        </div>
        <TextField v-model="form.note" label="What to do then" field="rule.note" />
      </div>
      <div class="flex min-w-0 flex-col gap-3">
        <p class="border-l-2 border-act pl-2" aria-live="polite">
          {{ draft ? ruleSentence(draft, names) : "The sentence shows here when its numbers and its time are written." }}
        </p>
        <p v-if="wanted.length" class="text-sm text-faint">
          {{ wanted.map((d) => d.label).join(", ") }}: worked out and stored from when the rule is there; it has no past to be
          tried on.
        </p>
        <RuleTrial
          v-else-if="draft"
          :rule="draft"
          :unit="unit(parts[0]!)"
          @limit="take"
          @lasting="parts[0]!.condition.lasting = exactDuration($event)"
        />
      </div>
    </div>
    <TellFields v-model="tell" />
    <ActFields v-model="acts" />
    <p class="text-sm text-faint">Not a certified smoke, gas, intruder or medical alarm.</p>
  </DialogForm>
</template>
