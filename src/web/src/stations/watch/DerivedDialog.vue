<script setup lang="ts">
/** A reading that is worked out of others: how, of what, and what it would be now. */
import { useQuery } from "@tanstack/vue-query";
import { refDebounced } from "@vueuse/core";
import { computed, ref } from "vue";
import { api, answer, type DerivedChoices, type DerivedDesign, type DerivedRole, type ReadingView } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import WorkingView from "@/kit/WorkingView.vue";
import type { Fault } from "@/kit/faults";
import { choiceOf, derivedNode, formOf, fromOf, type DerivedKind } from "./derived";
import DerivedSettings from "./DerivedSettings.vue";
import { idOf } from "./names";
import VesselFields from "./VesselFields.vue";

const props = defineProps<{ derived?: DerivedDesign; readings: ReadingView[]; choices: DerivedChoices }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const kinds = props.choices.kinds.map((c) => ({ value: c.usual.kind, label: c.label }));
const form = ref(formOf(props.derived?.from ?? props.choices.kinds[0]!.usual));
const choice = computed(() => choiceOf(props.choices, form.value.kind)!);
const label = ref(props.derived?.label ?? "");
const decimals = ref<number | "" | undefined>(props.derived?.decimals ?? choice.value.decimals);
const faults = ref<Fault[]>([]);
/** Not worked out of itself. */
const others = computed(() => props.readings.filter((r) => r.node !== derivedNode || r.key !== props.derived?.key));
const options = (role: DerivedRole) => [
  ...(role.count === "atMostOne" ? [{ value: "", label: "none: as warm as the air" }] : []),
  ...role.suits.flatMap((s) => {
    const r = others.value.find((o) => o.node === s.node && o.key === s.reading);
    return r ? [{ value: idOf(s), label: `${r.label} (${r.nodeLabel})` }] : [];
  }),
];
const nodes = computed(() => choice.value.nodes.map((key) => ({ value: key, label: site.node(key)?.label ?? key })));

/** Another kind begins with its usual numbers. */
function change(kind: DerivedKind) {
  const usual = choiceOf(props.choices, kind)!;
  form.value = formOf(usual.usual);
  decimals.value = usual.decimals;
}
const made = computed(() => fromOf(form.value, choice.value));
const asked = refDebounced(
  computed(() => (made.value.made ? JSON.stringify(made.value.made) : "")),
  300,
);
const look = useQuery({
  queryKey: ["derived-look", site.key, asked],
  enabled: computed(() => asked.value !== ""),
  retry: false,
  queryFn: () =>
    answer(
      api.POST("/api/sites/{site}/derived/look", {
        params: { path: { site: site.key.value } },
        body: { from: JSON.parse(asked.value) },
      }),
    ),
});

async function save() {
  faults.value = made.value.fault ? [made.value.fault] : [];
  if (!made.value.made) return;
  const name = label.value.trim() || choice.value.name;
  const taken = (site.design.value?.derived ?? []).map((d) => d.key);
  const derived = {
    key: props.derived?.key ?? keyFrom(name, taken),
    label: name,
    from: made.value.made,
    decimals: Number(decimals.value),
  };
  const done = await site.apply(`${name} is worked out`, [{ kind: "putDerived", derived }], true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="derived ? derived.label : 'Work a reading out'"
    :save="derived ? 'Save' : 'Work it out'"
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <FormField v-slot="{ id: f }" label="What"
      ><SelectBox :id="f" :model-value="form.kind" :options="kinds" label="What" @update:model-value="change"
    /></FormField>
    <template v-for="(role, i) in choice.roles" :key="`${form.kind} ${i}`">
      <FormField v-if="role.count !== 'many'" v-slot="{ id: f }" :label="role.label">
        <SelectBox
          :id="f"
          :model-value="form.of[i] ?? ''"
          :options="options(role)"
          :label="role.label"
          @update:model-value="form.of[i] = $event"
        />
        <p v-if="!role.suits.length" class="text-sm text-faint">
          No reading of this site {{ role.units.length ? `comes in ${role.units.join(" or ")}` : "can be taken" }}.
        </p>
      </FormField>
    </template>
    <template v-if="form.kind === 'sum'">
      <div v-for="(term, i) in form.terms" :key="i" class="grid grid-cols-[5.5rem_1fr] items-end gap-3">
        <TextField v-model="term.factor" :label="i === 0 ? 'Times' : 'and times'" number />
        <FormField v-slot="{ id: f }" label="Reading"
          ><SelectBox :id="f" v-model="term.reading" :options="options(choice.roles[0]!)" :label="`Reading ${i + 1}`"
        /></FormField>
      </div>
      <div class="flex flex-wrap items-end gap-3">
        <TextField v-model="form.plus" class="w-24" label="Plus" number />
        <AppButton v-if="form.terms.length < 8" small @click="form.terms.push({ reading: '', factor: 1 })"
          >One reading more</AppButton
        >
      </div>
    </template>
    <fieldset v-else-if="form.kind === 'presence'">
      <legend class="caps">Sensors</legend>
      <CheckBox
        v-for="o in options(choice.roles[0]!)"
        :key="o.value"
        :label="o.label"
        :model-value="form.of.includes(o.value)"
        @update:model-value="form.of = $event ? [...form.of, o.value] : form.of.filter((x) => x !== o.value)"
      />
    </fieldset>
    <VesselFields v-else-if="form.vessel" v-model="form.vessel" field="derived.from.vessel" />
    <FormField v-if="'node' in choice.usual" v-slot="{ id: f }" label="Node"
      ><SelectBox :id="f" v-model="form.node" :options="nodes" label="Node" />
      <p v-if="!nodes.length" class="text-sm text-faint">
        {{ form.kind === "daysLeft" ? "No node of this site runs on cells." : "This site has no node yet." }}
      </p>
    </FormField>
    <div class="grid gap-3 sm:grid-cols-3">
      <DerivedSettings v-model="form" :pulses="choices.pulses" />
      <TextField v-model="decimals" label="Digits" field="derived.decimals" number min="0" max="6" />
    </div>
    <TextField v-model="label" label="Name" field="derived.label" :placeholder="choice.name" />
    <section class="border-t border-rule pt-3" aria-label="What it would be now" aria-live="polite">
      <p v-if="!made.made" class="text-faint">{{ made.fault?.says }} Its value and its working show here.</p>
      <p v-else-if="look.data.value?.reasons.length" class="text-stop">{{ look.data.value.reasons.join(" ") }}</p>
      <WorkingView v-else-if="look.data.value?.now" :figure="look.data.value.now" />
      <p v-if="look.data.value?.now?.value === null" class="text-sm text-faint">
        It has no value by the newest readings alone; it is worked out over what is stored.
      </p>
    </section>
    <p v-if="form.kind === 'mouldIndex'" class="text-sm text-faint">
      A model of what grows where, for a hint to air or heat; it is no finding about health or a building.
    </p>
  </DialogForm>
</template>
