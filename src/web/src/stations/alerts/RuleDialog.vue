<script setup lang="ts">
/** A rule put together as a sentence, with a preview as it is typed. */
import { computed, ref, watch } from "vue";
import type { RuleCondition, RuleDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";
import FormField from "@/kit/FormField.vue";
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
  <AppDialog open :title="rule ? rule.label : 'New rule'" @close="$emit('close')">
    <form class="flex flex-col gap-3" @submit.prevent="save">
      <FormField v-slot="{ id, described, invalid }" label="Name" :fault="faults.label">
        <input :id="id" v-model="form.label" class="field" :aria-describedby="described" :aria-invalid="invalid" />
      </FormField>
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
          <FormField v-slot="{ id, described, invalid }" :label="`Limit, ${unit || 'on = 1'}`" :fault="faults.limit">
            <input
              :id="id"
              v-model.number="form.limit"
              type="number"
              step="any"
              class="field mono w-full"
              :aria-describedby="described"
              :aria-invalid="invalid"
            />
          </FormField>
          <FormField v-slot="{ id, described, invalid }" :label="`Over at, ${unit || 'off = 0'}`" :fault="faults.clear">
            <input
              :id="id"
              v-model.number="form.clear"
              type="number"
              step="any"
              class="field mono w-full"
              :aria-describedby="described"
              :aria-invalid="invalid"
            />
          </FormField>
        </template>
      </div>
      <FormField
        v-slot="{ id, described, invalid }"
        label="for"
        :fault="faults.lasting"
        :hint="form.what === 'silent' ? undefined : '0 s raises with the first sample that breaks it.'"
      >
        <input :id="id" v-model="form.lasting" class="field mono w-32" :aria-describedby="described" :aria-invalid="invalid" />
      </FormField>
      <FormField v-slot="{ id }" label="What to do then"><input :id="id" v-model="form.note" class="field" /></FormField>
      <p class="border-l-2 border-act pl-2" aria-live="polite">
        {{ draft ? ruleSentence(draft, site) : "The sentence shows here when limit and time are written." }}
      </p>
      <p class="text-sm text-faint">Not a certified smoke, gas, intruder or medical alarm.</p>
      <div class="flex gap-2">
        <AppButton kind="lead" type="submit" :disabled="site.busy.value">{{ rule ? "Save" : "Add and arm" }}</AppButton>
        <AppButton @click="$emit('close')">Cancel</AppButton>
      </div>
    </form>
  </AppDialog>
</template>
