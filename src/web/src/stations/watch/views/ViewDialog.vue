<script setup lang="ts">
/** A view's name, and whether a wall shows it in turn. */
import { ref } from "vue";
import { useRouter } from "vue-router";
import type { ViewDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";

const props = defineProps<{ view?: ViewDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const router = useRouter();
const label = ref(props.view?.label ?? "");
const inRotation = ref(props.view?.inRotation ?? true);
const faults = ref<Fault[]>([]);

async function save() {
  // "first" is the address of the view that is laid out by itself, "all" that of all readings.
  const taken = ["first", "all", ...site.design.value!.views!.map((v) => v.key)];
  const view: ViewDesign = {
    key: props.view?.key ?? keyFrom(label.value, taken),
    label: label.value.trim(),
    tiles: props.view?.tiles ?? [],
    inRotation: inRotation.value,
  };
  const done = await site.apply(`${view.label} ${props.view ? "changed" : "added"}`, [{ kind: "putView", view }], true);
  if (!done.ok) {
    faults.value = done.faults;
    return;
  }
  emit("close");
  if (!props.view) await router.push(`/${site.key.value}/watch/${view.key}`);
}
</script>

<template>
  <DialogForm
    :title="view ? view.label : 'New view'"
    :save="view ? 'Save' : 'Add'"
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <TextField v-model="label" label="Name" field="view.label" />
    <CheckBox v-model="inRotation" label="A wall shows it in turn" />
  </DialogForm>
</template>
