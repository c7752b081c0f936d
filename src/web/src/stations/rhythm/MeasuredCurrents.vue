<script setup lang="ts">
/** Currents measured on this very node: they replace the catalogue's values. */
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, sentence, type NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import TextField from "@/kit/TextField.vue";
import { amount } from "@/kit/format";
import { say } from "@/kit/notices";

const props = defineProps<{ node: NodeDesign }>();
const site = useSite();
const queries = useQueryClient();
const measured = computed(() => (site.site.value?.measuredCurrents ?? []).filter((c) => c.node === props.node.key));
const open = ref(false);
const form = ref({ state: "asleep" as "asleep" | "active", milliamps: undefined as number | undefined, how: "" });
const fault = ref("");

async function save() {
  if (typeof form.value.milliamps !== "number") {
    fault.value = "Write the current in mA, such as 0.35.";
    return;
  }
  const { error, response } = await api.POST("/api/sites/{site}/nodes/{node}/currents", {
    params: { path: { site: site.key.value, node: props.node.key } },
    body: { ...form.value, milliamps: form.value.milliamps },
  });
  if (!response.ok) {
    fault.value = sentence(error);
    return;
  }
  [open.value, fault.value, form.value] = [false, "", { state: "asleep", milliamps: undefined, how: "" }];
  await queries.invalidateQueries({ queryKey: ["site"] });
  await queries.invalidateQueries({ queryKey: ["plan"] });
  say("The measured current is in the plan");
}
</script>

<template>
  <h3 class="mt-4 mb-1 font-semibold">Measured on this node</h3>
  <p v-for="c in measured" :key="`${c.atMs} ${c.state}`" class="text-sm">
    {{ c.state }}: <span class="mono">{{ amount(c.milliamps, "mA").join(" ") }}</span>, {{ c.how }}
  </p>
  <p v-if="!measured.length" class="text-sm text-faint">
    Nothing yet: sleep currents of real boards vary widely, and a multimeter in the supply lead settles it.
  </p>
  <template v-if="site.canWrite.value">
    <AppButton v-if="!open" small class="mt-2" @click="open = true">Add a measured current</AppButton>
    <form v-else class="mt-2 flex flex-col gap-2" @submit.prevent="save">
      <div class="flex gap-3">
        <label class="flex items-center gap-1.5"><input v-model="form.state" type="radio" value="asleep" /> asleep</label>
        <label class="flex items-center gap-1.5"><input v-model="form.state" type="radio" value="active" /> awake</label>
      </div>
      <TextField v-model="form.milliamps" label="Current, mA" number :fault="fault" min="0" />
      <TextField v-model="form.how" label="How it was measured" />
      <div class="flex gap-2">
        <AppButton kind="lead" type="submit" small>Save</AppButton>
        <AppButton small @click="open = false">Cancel</AppButton>
      </div>
    </form>
  </template>
</template>
