<script setup lang="ts">
/** A rule put together as a sentence, with a preview as it is typed, and tried on the past. */
import { computed, ref, watch } from "vue";
import type { RuleDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import RuleTrial from "./RuleTrial.vue";
import ActFields from "./ActFields.vue";
import TellFields from "./TellFields.vue";
import { conditionOf, formOf, lastingFor, whats } from "./condition";
import { ruleSentence, unitOf } from "./sentence";
import { tellForm, tellOf } from "./tell";

const props = defineProps<{ rule?: RuleDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const readings = computed(() =>
  (site.design.value?.nodes ?? []).flatMap((n) =>
    n.readings.map((r) => ({ value: `${n.key}/${r.key}`, label: `${r.label} (${n.label})` })),
  ),
);
const form = ref({
  label: props.rule?.label ?? "",
  reading: props.rule ? `${props.rule.node}/${props.rule.reading}` : (readings.value[0]?.value ?? ""),
  note: props.rule?.note ?? "",
});
const condition = ref(formOf(props.rule?.condition));
const tell = ref(tellForm(props.rule?.tell));
const acts = ref([...(props.rule?.acts ?? [])]);
const faults = ref<Record<string, string>>({});
watch(
  () => condition.value.what,
  (what) => (condition.value.lasting = lastingFor(what, condition.value.lasting)),
);
const what = computed(() => condition.value.what);
const unit = computed(() => unitOf(site, form.value.reading.split("/")[0]!, form.value.reading.split("/")[1] ?? ""));
const oneSided = computed(() => what.value === "above" || what.value === "below");
const first = computed(
  () =>
    ({
      above: `Limit, ${unit.value || "on = 1"}`,
      below: `Limit, ${unit.value || "on = 1"}`,
      outside: `From, ${unit.value}`,
      rises: `By, ${unit.value}`,
      falls: `By, ${unit.value}`,
      events: "Times",
      silent: "",
    })[what.value],
);
const lasting = computed(() => (["rises", "falls", "events"].includes(what.value) ? "within" : "for"));

const draft = computed<RuleDesign | undefined>(() => {
  const { made } = conditionOf(condition.value);
  const [node, reading] = form.value.reading.split("/");
  if (!made || !node || !reading) return undefined;
  const key =
    props.rule?.key ??
    keyFrom(
      form.value.label,
      site.design.value!.rules.map((r) => r.key),
    );
  return {
    key,
    label: form.value.label.trim(),
    node,
    reading,
    condition: made,
    note: form.value.note.trim(),
    armed: props.rule?.armed ?? true,
    wantedWithinMs: props.rule?.wantedWithinMs ?? null,
    tell: tellOf(tell.value).made,
    acts: acts.value,
  };
});

/** Another limit; where it is over keeps its distance. */
function take(limit: number) {
  const { first: before, second } = condition.value;
  if (oneSided.value && typeof before === "number" && typeof second === "number")
    condition.value.second = Number((second + limit - before).toPrecision(6));
  condition.value.first = limit;
}

async function save() {
  faults.value = conditionOf(condition.value).faults;
  const wrong = tellOf(tell.value).fault;
  if (wrong) faults.value.tell = wrong;
  if (!draft.value || Object.keys(faults.value).length) return;
  const done = await site.apply(
    `${draft.value.label} ${props.rule ? "changed" : "added and armed"}`,
    [{ kind: "putRule", rule: draft.value }],
    true,
  );
  if (done.ok) emit("close");
  else faults.value[done.reasons.some((r) => r.includes("clearing")) ? "second" : "label"] = done.reasons.join(" ");
}
</script>

<template>
  <DialogForm
    :title="rule ? rule.label : 'New rule'"
    :save="rule ? 'Save' : 'Add and arm'"
    :busy="site.busy.value"
    @close="$emit('close')"
    @save="save"
  >
    <TextField v-model="form.label" label="Name" :fault="faults.label" />
    <FormField v-slot="{ id }" label="Tell me when"
      ><SelectBox :id="id" v-model="form.reading" :options="readings" label="Reading"
    /></FormField>
    <div class="grid gap-3 sm:grid-cols-3">
      <FormField v-slot="{ id }" label="What it does">
        <SelectBox :id="id" v-model="condition.what" :options="whats" label="What it does" />
      </FormField>
      <TextField v-if="what !== 'silent'" v-model="condition.first" :label="first" number :fault="faults.first" />
      <TextField
        v-if="oneSided || what === 'outside'"
        v-model="condition.second"
        :label="oneSided ? `Over at, ${unit || 'off = 0'}` : `to, ${unit}`"
        number
        :fault="faults.second"
      />
    </div>
    <div class="grid gap-3 sm:grid-cols-2">
      <TextField
        v-model="condition.lasting"
        :label="lasting"
        mono
        :fault="faults.lasting"
        :disabled="oneSided && Number(condition.times) > 1"
        :hint="lasting === 'for' && what !== 'silent' ? '0 s raises with the first value that breaks it.' : undefined"
      />
      <TextField v-if="oneSided" v-model="condition.times" label="Values in a row" number min="1" max="100" />
      <TextField v-if="what === 'outside'" v-model="condition.inside" :label="`Over when inside by, ${unit}`" number min="0" />
    </div>
    <TextField v-model="form.note" label="What to do then" />
    <p class="border-l-2 border-act pl-2" aria-live="polite">
      {{ draft ? ruleSentence(draft, site) : "The sentence shows here when its numbers and its time are written." }}
    </p>
    <TellFields v-model="tell" :fault="faults.tell" />
    <ActFields v-model="acts" />
    <RuleTrial v-if="draft" :rule="draft" :unit="unit" @limit="take" />
    <p class="text-sm text-faint">Not a certified smoke, gas, intruder or medical alarm.</p>
  </DialogForm>
</template>
