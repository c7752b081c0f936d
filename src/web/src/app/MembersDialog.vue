<script setup lang="ts">
/** Who may open the site, and as what. For owners. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { ref } from "vue";
import { api, answer, sentence, type MemberView } from "@/api/client";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import { say } from "@/kit/notices";
import TextField from "@/kit/TextField.vue";
import PasswordDialog from "./PasswordDialog.vue";
import { useSite } from "./site";

defineEmits<{ close: [] }>();
const site = useSite();
const queries = useQueryClient();
const path = { path: { site: site.key.value } };
type Part = MemberView["role"] | "resident";
const roles = [
  { value: "viewer" as Part, label: "viewer: looks" },
  { value: "resident" as Part, label: "viewer who acknowledges and arms" },
  { value: "maker" as Part, label: "maker: plans and switches" },
  { value: "owner" as Part, label: "owner: also members and ways out" },
];
const partOf = (m: MemberView): Part => (m.role === "viewer" && m.mayAct ? "resident" : m.role);
const form = ref({ name: "", role: "viewer" as Part, password: "" });
const fault = ref("");
const forgot = ref<string | null>(null);
const query = useQuery({
  queryKey: ["members", site.key],
  queryFn: () => answer(api.GET("/api/sites/{site}/members", { params: path })),
});
async function answered(response: Response, error: unknown) {
  fault.value = response.ok ? "" : sentence(error);
  await queries.invalidateQueries({ queryKey: ["members"] });
  return response.ok;
}
async function put(name: string, part: Part, password: string | null) {
  const body = { name, role: part === "resident" ? "viewer" : part, mayAct: part === "resident", password };
  const { response, error } = await api.PUT("/api/sites/{site}/members", { params: path, body });
  return answered(response, error);
}
async function add() {
  if (await put(form.value.name.trim(), form.value.role, form.value.password || null))
    form.value = { name: "", role: "viewer", password: "" };
}
async function remove(name: string) {
  const { response, error } = await api.DELETE("/api/sites/{site}/members/{name}", { params: { path: { ...path.path, name } } });
  await answered(response, error);
}
function told() {
  say(`${forgot.value} has a new password.`);
  forgot.value = null;
}
</script>

<template>
  <AppDialog open title="Members" @close="$emit('close')">
    <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
    <ul class="mb-3 divide-y divide-rule border-y border-rule">
      <li v-for="m in query.data.value ?? []" :key="m.name" class="flex flex-wrap items-center justify-between gap-2 py-1.5">
        <strong>{{ m.name }}</strong>
        <span class="flex items-center gap-1">
          <SelectBox
            :model-value="partOf(m)"
            :options="roles"
            :label="`Role of ${m.name}`"
            @update:model-value="put(m.name, $event, null)"
          />
          <AppButton v-if="!m.you" small :aria-label="`New password for ${m.name}`" @click="forgot = m.name"
            >New password</AppButton
          >
          <AppButton v-if="!m.you" small :aria-label="`Remove ${m.name}`" @click="remove(m.name)">Remove</AppButton>
        </span>
      </li>
    </ul>
    <form class="flex flex-col gap-3" @submit.prevent="add">
      <div class="grid gap-3 sm:grid-cols-2">
        <TextField v-model="form.name" label="Name" autocomplete="off" />
        <TextField
          v-model="form.password"
          label="First password"
          type="password"
          autocomplete="new-password"
          hint="For an account that is new, 10 characters or more."
        />
      </div>
      <FormField v-slot="{ id }" label="As"><SelectBox :id="id" v-model="form.role" :options="roles" label="As" /></FormField>
      <p v-if="fault" class="text-sm text-stop" role="alert">{{ fault }}</p>
      <AppButton kind="lead" type="submit" class="self-start">Add</AppButton>
    </form>
    <p class="mt-3 text-sm text-faint">A role that changes or ends also ends the pages that are open with it.</p>
    <PasswordDialog v-if="forgot" :of="forgot" :site="site.key.value" @close="forgot = null" @done="told" />
  </AppDialog>
</template>
