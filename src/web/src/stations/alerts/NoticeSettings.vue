<script setup lang="ts">
/** How notices leave the house: mail server, gateway of text messages, networks that webhooks may reach. For the owner. */
import { useQueryClient } from "@tanstack/vue-query";
import { onMounted, ref } from "vue";
import { api, sentence } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import TextField from "@/kit/TextField.vue";

const emit = defineEmits<{ close: [] }>();
const site = useSite();
const queries = useQueryClient();
const form = ref({
  mailHost: "",
  mailPort: 587 as number | "",
  mailTls: false,
  mailFrom: "",
  mailUser: "",
  textUrl: "",
  homeNetworks: "",
});
const password = ref("");
const key = ref("");
const has = ref({ password: false, key: false });
const secret = ref("");
const faults = ref<string[]>([]);
const busy = ref(true);
const path = { params: { path: { site: site.key.value } } };

onMounted(async () => {
  const { data, error } = await api.GET("/api/sites/{site}/notices/settings", path);
  busy.value = false;
  if (!data) {
    faults.value = [sentence(error)];
    return;
  }
  const { hasMailPassword, hasTextKey, ...rest } = data;
  form.value = rest;
  has.value = { password: hasMailPassword, key: hasTextKey };
});
async function save() {
  busy.value = true;
  const { error, response } = await api.PUT("/api/sites/{site}/notices/settings", {
    ...path,
    // A secret that is not written stays as it is.
    body: {
      ...form.value,
      mailPort: Number(form.value.mailPort),
      mailPassword: password.value || null,
      textKey: key.value || null,
    },
  });
  busy.value = false;
  if (response.ok) {
    await queries.invalidateQueries({ queryKey: ["notices"] });
    // Whom rules reach depends on it.
    await queries.invalidateQueries({ queryKey: ["plan"] });
    emit("close");
  } else faults.value = error && "reasons" in error ? error.reasons : [sentence(error)];
}
async function anew() {
  const { data, error } = await api.POST("/api/sites/{site}/notices/secret", path);
  if (data) secret.value = data.secret;
  else faults.value = [sentence(error)];
}
</script>

<template>
  <DialogForm title="Ways out" save="Save" :busy="busy" @close="$emit('close')" @save="save">
    <div class="grid gap-3 sm:grid-cols-[1fr_6rem]">
      <TextField v-model="form.mailHost" label="Mail server" mono placeholder="mail.example.net" />
      <TextField v-model="form.mailPort" label="Port" number />
    </div>
    <CheckBox
      v-model="form.mailTls"
      label="TLS from the start"
      hint="Usual at port 465. Else STARTTLS: where there is a password it must be offered, and no password goes out without."
    />
    <TextField v-model="form.mailFrom" label="Sent from" mono placeholder="house@example.net" />
    <div class="grid gap-3 sm:grid-cols-2">
      <TextField v-model="form.mailUser" label="User" mono autocomplete="off" />
      <TextField
        v-model="password"
        label="Password"
        type="password"
        autocomplete="new-password"
        :hint="has.password ? 'One is kept; empty leaves it.' : undefined"
      />
    </div>
    <div class="grid gap-3 sm:grid-cols-2">
      <TextField v-model="form.textUrl" label="Text gateway" mono placeholder="https://…" hint="Is sent {to, text} as JSON." />
      <TextField
        v-model="key"
        label="Its key"
        type="password"
        autocomplete="new-password"
        :hint="has.key ? 'One is kept; empty leaves it.' : undefined"
      />
    </div>
    <FormField v-slot="{ id }" label="Networks of the house that may be called">
      <textarea :id="id" v-model="form.homeNetworks" rows="2" class="field mono" placeholder="192.168.1.0/24" />
    </FormField>
    <p class="text-sm text-faint">
      One a line. Addresses of the wide world may always be called; what a name leads to is checked at each call.
    </p>
    <div class="flex flex-wrap items-center gap-2">
      <AppButton small @click="anew">New secret for webhooks</AppButton>
      <span v-if="secret" class="mono text-sm break-all">{{ secret }} <span class="text-faint">shown this once</span></span>
    </div>
    <p v-for="f in faults" :key="f" class="text-sm text-stop" role="alert">{{ f }}</p>
  </DialogForm>
</template>
