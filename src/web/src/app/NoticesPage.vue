<script setup lang="ts">
/** What ships with the program, each with its licence. For everybody, also signed out. */
import { useQuery } from "@tanstack/vue-query";

interface Shipped {
  name: string;
  version: string;
  part: "server" | "page" | "font" | "data";
  licence: string;
}
const parts = { server: "Server", page: "Pages", font: "Font", data: "Data" };
const query = useQuery({
  queryKey: ["notices"],
  staleTime: Infinity,
  queryFn: async (): Promise<Shipped[]> => {
    const answer = await fetch("/notices.json");
    if (!answer.ok) throw new Error("The list is not there: it is made when the program is built.");
    return answer.json();
  },
});
</script>

<template>
  <main class="mx-auto max-w-3xl p-4">
    <h1 class="text-2xl font-semibold">Licences</h1>
    <p class="mb-3 text-faint">
      What ships with Cenotic, and under which licence. <a class="underline" href="/notices.txt">All texts in one file</a> ·
      <RouterLink class="underline" to="/">Back</RouterLink>
    </p>
    <p v-if="query.isPending.value" role="status">Reading the list…</p>
    <p v-else-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
    <table v-else class="grid-table w-full">
      <thead>
        <tr>
          <th scope="col">Name</th>
          <th scope="col">Version</th>
          <th scope="col" class="hidden sm:table-cell">In</th>
          <th scope="col">Licence</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="n in query.data.value" :key="n.name + n.version">
          <td class="break-all">{{ n.name }}</td>
          <td class="mono">{{ n.version }}</td>
          <td class="hidden sm:table-cell">{{ parts[n.part] }}</td>
          <td class="break-all">{{ n.licence }}</td>
        </tr>
      </tbody>
    </table>
  </main>
</template>
