<script setup lang="ts">
/** An access point: where it stands, its channel, and what it sends with. */
import { computed, ref } from "vue";
import type { AccessPoint } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";

const props = defineProps<{ accessPoint?: AccessPoint }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const place = computed(() => site.design.value!.place);
const spots = computed(() => place.value.spots.map((s) => ({ value: s.key, label: s.label })));
const form = ref({
  label: props.accessPoint?.label ?? "Access point",
  spot: props.accessPoint?.spot ?? "",
  channel: (props.accessPoint?.channel ?? "") as number | "",
  radiatedDbm: (props.accessPoint?.radiatedDbm ?? "") as number | "",
});
const faults = ref<Fault[]>([]);

async function save() {
  faults.value = [];
  const f = form.value;
  if (!f.spot) {
    faults.value = [{ says: "Choose the spot where it stands; a new spot is made at Place." }];
    return;
  }
  const key =
    props.accessPoint?.key ??
    keyFrom(
      f.label,
      (place.value.accessPoints ?? []).map((a) => a.key),
    );
  const accessPoint: AccessPoint = {
    key,
    label: f.label.trim(),
    spot: f.spot,
    channel: f.channel === "" ? null : f.channel,
    radiatedDbm: f.radiatedDbm === "" ? null : f.radiatedDbm,
  };
  const done = await site.apply(
    `${accessPoint.label} ${props.accessPoint ? "changed" : "added"}`,
    [{ kind: "putAccessPoint", accessPoint }],
    true,
  );
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="accessPoint ? accessPoint.label : 'New access point'"
    :save="accessPoint ? 'Save' : 'Add the access point'"
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <TextField v-model="form.label" label="Name" field="accessPoint.label" />
    <div class="grid gap-3 sm:grid-cols-3">
      <FormField v-slot="{ id }" label="Stands at" field="accessPoint.spot"
        ><SelectBox :id="id" v-model="form.spot" :options="spots" label="Stands at"
      /></FormField>
      <TextField
        v-model="form.channel"
        label="Channel, 2.4 GHz"
        field="accessPoint.channel"
        number
        hint="Empty: it chooses one."
      />
      <TextField
        v-model="form.radiatedDbm"
        label="Sends with, dBm e.i.r.p."
        field="accessPoint.radiatedDbm"
        number
        :hint="`Empty: ${site.usual.value.accessPointDbm} dBm.`"
      />
    </div>
  </DialogForm>
</template>
