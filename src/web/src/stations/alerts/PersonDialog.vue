<script setup lang="ts">
/** A person with the ways to them and their quiet hours. */
import { computed, ref } from "vue";
import type { PersonDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";
import QuietFields from "./QuietFields.vue";
import { clock, days, minuteOf, type Day } from "./tell";

const props = defineProps<{ person?: PersonDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const kinds = [
  { value: "mail" as const, label: "mail" },
  { value: "text" as const, label: "text message" },
  { value: "webhook" as const, label: "webhook" },
];
const hints = { mail: "name@example.net", text: "+441632960123", webhook: "https://…" };
const name = ref(props.person?.name ?? "");
const ways = ref(props.person?.ways.map((w) => ({ ...w })) ?? [{ kind: "mail" as PersonDesign["ways"][0]["kind"], address: "" }]);
const quiet = ref(!!props.person?.quiet);
const from = ref(clock(props.person?.quiet?.fromMinute ?? 22 * 60));
const to = ref(clock(props.person?.quiet?.toMinute ?? 7 * 60));
const on = ref<Day[]>([...(props.person?.quiet?.days ?? days)]);
const faults = ref<Fault[]>([]);
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");

async function save() {
  faults.value = [];
  const [a, b] = [minuteOf(from.value), minuteOf(to.value)];
  if (quiet.value && (a === undefined || b === undefined)) {
    faults.value = [{ says: "Write the times like 22:30.", field: "person.quiet.toMinute" }];
    return;
  }
  const taken = site.design.value!.people!.map((p) => p.key);
  const person: PersonDesign = {
    key: props.person?.key ?? keyFrom(name.value, taken),
    name: name.value.trim(),
    ways: ways.value.map((w) => ({ ...w, address: w.address.trim() })),
    quiet: quiet.value ? { fromMinute: a!, toMinute: b!, days: on.value } : null,
  };
  const done = await site.apply(`${person.name} ${props.person ? "changed" : "added"}`, [{ kind: "putPerson", person }], true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="person ? person.name : 'New person'"
    :save="person ? 'Save' : 'Add'"
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <TextField v-model="name" label="Name" field="person.name" />
    <div v-for="(w, i) in ways" :key="i" class="flex flex-wrap items-end gap-2">
      <FormField v-slot="{ id }" label="Way"
        ><SelectBox :id="id" v-model="w.kind" :options="kinds" :label="`Way ${i + 1}`"
      /></FormField>
      <TextField
        v-model="w.address"
        class="min-w-48 flex-1"
        :label="`Address ${i + 1}`"
        :field="`person.ways.${i}.address`"
        mono
        :placeholder="hints[w.kind]"
      />
      <AppButton v-if="ways.length > 1" small :aria-label="`Remove way ${i + 1}`" @click="ways.splice(i, 1)">Remove</AppButton>
    </div>
    <AppButton v-if="ways.length < 6" small class="self-start" @click="ways.push({ kind: 'text', address: '' })"
      >Another way</AppButton
    >
    <p v-if="ways.some((w) => w.kind === 'webhook')" class="text-sm text-faint">
      A webhook is signed, follows no redirect, and reaches into the house only where the owner allows it under Ways out.
    </p>
    <CheckBox v-model="quiet" label="Quiet hours: not told but of what is urgent" />
    <QuietFields v-if="quiet" v-model:from="from" v-model:to="to" v-model:on="on" :zone="zone" field="person.quiet" />
  </DialogForm>
</template>
