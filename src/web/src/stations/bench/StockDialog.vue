<script setup lang="ts">
/** How many of a thing lie in the drawer, and the ways to buy more. */
import { ref } from "vue";
import type { PartsListItem } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import DialogForm from "@/kit/DialogForm.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";

const props = defineProps<{ item: PartsListItem }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const known = site.design.value?.stock?.find((s) => s.id === props.item.id);
const onHand = ref(known?.onHand ?? 0);
const offers = ref((known?.offers ?? []).map((o) => ({ ...o })));
const faults = ref<Fault[]>([]);

async function save() {
  faults.value = [];
  const clean = offers.value
    .filter((o) => o.from.trim())
    .map((o) => ({ from: o.from.trim(), packSize: Number(o.packSize), packPrice: Number(o.packPrice), days: Number(o.days) }));
  // Of what nothing is known nothing is kept.
  if (!known && Number(onHand.value) === 0 && !clean.length) return emit("close");
  const done = await site.apply(
    `Stock of ${props.item.label} changed`,
    [{ kind: "putStock", item: { id: props.item.id, onHand: Number(onHand.value), offers: clean } }],
    true,
  );
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm :title="item.label" save="Save" :busy="site.busy.value" :faults="faults" @close="$emit('close')" @save="save">
    <TextField v-model="onHand" label="At hand" field="item.onHand" number min="0" />
    <fieldset v-for="(o, at) in offers" :key="at" class="grid grid-cols-2 gap-2 border-t border-rule pt-2 sm:grid-cols-4">
      <TextField v-model="o.from" label="From" :field="`item.offers.${at}.from`" />
      <TextField v-model="o.packSize" label="Pieces in a pack" :field="`item.offers.${at}.packSize`" number min="1" />
      <TextField v-model="o.packPrice" label="Price of a pack" :field="`item.offers.${at}.packPrice`" number min="0" />
      <TextField v-model="o.days" label="Days until here" :field="`item.offers.${at}.days`" number min="0" />
    </fieldset>
    <div class="flex gap-2">
      <AppButton small @click="offers.push({ from: '', packSize: 1, packPrice: 0, days: 3 })">Another way to buy</AppButton>
      <AppButton v-if="offers.length" small @click="offers.pop()">Take the last away</AppButton>
    </div>
  </DialogForm>
</template>
