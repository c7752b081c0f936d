<script setup lang="ts">
/** A bad period of a reading is set aside: kept as it came, left out of lines, sums and rules, taken back from the Log. */
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, sentence, type ReadingView } from "@/api/client";
import { useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import { derivedNode } from "./derived";

const props = defineProps<{ readings: ReadingView[]; now: number }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const queries = useQueryClient();
const hour = 3_600_000;
/** As the field wants it: the time of this browser. */
const local = (ms: number) => new Date(ms - new Date(ms).getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
const options = computed(() =>
  props.readings
    .filter((r) => r.node !== derivedNode)
    .map((r) => ({ value: `${r.node}/${r.key}`, label: `${r.label} (${r.nodeLabel})` })),
);
const first = props.readings.find((r) => r.kind === "gauge" && r.node !== derivedNode);
const form = ref({
  reading: first ? `${first.node}/${first.key}` : (options.value[0]?.value ?? ""),
  from: local(props.now - hour),
  to: local(props.now),
  reason: "",
});
const fault = ref("");
const busy = ref(false);

async function save() {
  const [node = "", reading = ""] = form.value.reading.split("/");
  const [fromMs, toMs] = [Date.parse(form.value.from), Date.parse(form.value.to)];
  fault.value = Number.isNaN(fromMs) || Number.isNaN(toMs) ? "Choose when it begins and ends." : "";
  if (fault.value) return;
  busy.value = true;
  const { error, response } = await api.POST("/api/sites/{site}/set-aside", {
    params: { path: { site: site.key.value } },
    body: { node, reading, fromMs, toMs, reason: form.value.reason },
  });
  busy.value = false;
  fault.value = response.ok ? "" : sentence(error);
  if (!response.ok) return;
  for (const key of ["readings", "line", "lane", "log"]) void queries.invalidateQueries({ queryKey: [key] });
  emit("close");
}
</script>

<template>
  <DialogForm title="Set a bad period aside" save="Set it aside" :busy="busy" @close="$emit('close')" @save="save">
    <FormField v-slot="{ id }" label="Reading"
      ><SelectBox :id="id" v-model="form.reading" :options="options" label="Reading"
    /></FormField>
    <div class="grid gap-3 sm:grid-cols-2">
      <TextField v-model="form.from" label="From" type="datetime-local" hint="Time of this browser." />
      <TextField v-model="form.to" label="To" type="datetime-local" />
    </div>
    <TextField v-model="form.reason" label="Why" hint="Such as: the probe lay in the sun." maxlength="200" />
    <p class="text-sm text-faint">
      Its values are kept as they came and left out of lines, sums and rules. The Log takes it back with one click.
    </p>
    <p v-if="fault" class="text-sm text-stop" role="alert">{{ fault }}</p>
  </DialogForm>
</template>
