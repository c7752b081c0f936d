<script setup lang="ts">
/** A rule put together as a sentence, with a preview as it is typed. */
import { computed, ref, watch } from "vue";
import type { RuleCondition, RuleDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import TextField from "@/kit/TextField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import { duration, parseDuration } from "@/kit/format";
import { ruleSentence, unitOf } from "./sentence";

const props = defineProps<{ rule?: RuleDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const readings = computed(() =>
  (site.design.value?.nodes ?? []).flatMap((n) =>
    n.readings.map((r) => ({ value: `${n.key}/${r.key}`, label: `${r.label} (${n.label})` })),
  ),
);
const c = props.rule?.condition;
const limitOf = c?.kind === "beyondLimit" ? c : undefined;
const form = ref({
  label: props.rule?.label ?? "",
  reading: props.rule ? `${props.rule.node}/${props.rule.reading}` : (readings.value[0]?.value ?? ""),
  what: (c?.kind === "silentFor" ? "silent" : (limitOf?.side ?? "above")) as "above" | "below" | "silent",
  limit: limitOf?.limit ?? (undefined as number | undefined),
  clear: limitOf?.clear ?? (undefined as number | undefined),
  lasting: c ? duration(c.forMs) : "0 s",
  note: props.rule?.note ?? "",
});
const faults = ref<Record<string, string>>({});
watch(
  () => form.value.what,
  (what) => what === "silent" && parseDuration(form.value.lasting) === 0 && (form.value.lasting = "10 min"),
);
const unit = computed(() => unitOf(site, form.value.reading.split("/")[0]!, form.value.reading.split("/")[1] ?? ""));

function condition(): RuleCondition | undefined {
  const f = form.value;
  const ms = parseDuration(f.lasting);
  if (ms === undefined) return undefined;
  if (f.what === "silent") return { kind: "silentFor", forMs: ms };
  if (typeof f.limit !== "number") return undefined;
  return { kind: "beyondLimit", side: f.what, limit: f.limit, clear: typeof f.clear === "number" ? f.clear : f.limit, forMs: ms };
}

const draft = computed<RuleDesign | undefined>(() => {
  const made = condition();
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
  };
});

async function save() {
  faults.value = {};
  if (parseDuration(form.value.lasting) === undefined)
    faults.value.lasting = `"${form.value.lasting}" is no time; write it like 30 s, 5 min or 2 h.`;
  if (form.value.what !== "silent" && typeof form.value.limit !== "number") faults.value.limit = "Write the limit as a number.";
  if (!draft.value || Object.keys(faults.value).length) return;
  const done = await site.apply(
    `${draft.value.label} ${props.rule ? "changed" : "added and armed"}`,
    [{ kind: "putRule", rule: draft.value }],
    true,
  );
  if (done.ok) emit("close");
  else faults.value[done.reasons.some((r) => r.includes("clearing")) ? "clear" : "label"] = done.reasons.join(" ");
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
      <FormField v-slot="{ id }" label="is">
        <SelectBox
          :id="id"
          v-model="form.what"
          :options="[
            { value: 'above', label: 'above' },
            { value: 'below', label: 'below' },
            { value: 'silent', label: 'silent' },
          ]"
          label="is"
        />
      </FormField>
      <template v-if="form.what !== 'silent'">
        <TextField v-model="form.limit" :label="`Limit, ${unit || 'on = 1'}`" number :fault="faults.limit" />
        <TextField v-model="form.clear" :label="`Over at, ${unit || 'off = 0'}`" number :fault="faults.clear" />
      </template>
    </div>
    <TextField
      v-model="form.lasting"
      label="for"
      mono
      :fault="faults.lasting"
      :hint="form.what === 'silent' ? undefined : '0 s raises with the first sample that breaks it.'"
    />
    <TextField v-model="form.note" label="What to do then" />
    <p class="border-l-2 border-act pl-2" aria-live="polite">
      {{ draft ? ruleSentence(draft, site) : "The sentence shows here when limit and time are written." }}
    </p>
    <p class="text-sm text-faint">Not a certified smoke, gas, intruder or medical alarm.</p>
  </DialogForm>
</template>
