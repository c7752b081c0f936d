<script setup lang="ts">
/** What the node needs, what lies in the drawer, and what the rest costs: cheapest, or soonest. */
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, type NodeDesign, type PartsListItem, type PartsListing } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import StockDialog from "./StockDialog.vue";

const props = defineProps<{ node: NodeDesign }>();
const site = useSite();
const soonest = ref(false);
const edited = ref<PartsListItem>();
const query = useQuery({
  queryKey: ["parts-list", site.key, computed(() => props.node.key), computed(() => site.site.value?.revision)],
  placeholderData: (old: PartsListing | undefined) => old,
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/nodes/{node}/parts-list", {
        params: { path: { site: site.key.value, node: props.node.key } },
      }),
    ),
});
const list = computed(() => query.data.value);
const way = (i: PartsListItem) => (soonest.value ? i.soonest : i.cheapest);
const sum = computed(() => (soonest.value ? list.value?.soonestPrice : list.value?.cheapestPrice) ?? 0);
const days = computed(() => (soonest.value ? list.value?.soonestDays : list.value?.cheapestDays) ?? 0);
</script>

<template>
  <section>
    <p v-if="query.isPending.value" role="status">Counting…</p>
    <p v-else-if="query.error.value" class="text-stop" role="alert">{{ query.error.value.message }}</p>
    <template v-else-if="list">
      <p class="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1">
        <span
          ><strong class="mono">{{ sum.toFixed(2) }}</strong> in your currency for what is missing, all here in
          <strong class="mono">{{ days }}</strong> {{ days === 1 ? "day" : "days" }}.</span
        >
        <span v-if="list.unpriced" class="text-faint"
          >{{ list.unpriced }} {{ list.unpriced === 1 ? "thing has" : "things have" }} no offer yet.</span
        >
        <label class="flex items-center gap-1.5"
          ><input v-model="soonest" type="checkbox" class="size-4" /> soonest instead of cheapest</label
        >
      </p>
      <div class="overflow-x-auto">
        <table class="grid-table">
          <thead>
            <tr>
              <th>Thing</th>
              <th>For</th>
              <th class="text-right">Needed</th>
              <th class="text-right">At hand</th>
              <th class="text-right">To buy</th>
              <th>From</th>
              <th class="text-right">Price</th>
              <th class="text-right">Days</th>
              <th><span class="sr-only">Stock</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="i in list.items" :key="i.id">
              <td>{{ i.label }}</td>
              <td class="max-w-60 text-sm text-faint">{{ i.for }}</td>
              <td class="mono text-right">{{ i.needed }}</td>
              <td class="mono text-right">{{ i.onHand }}</td>
              <td class="mono text-right" :class="i.toBuy ? 'font-semibold' : 'text-faint'">{{ i.toBuy }}</td>
              <td class="text-sm">
                <template v-if="way(i)"
                  >{{ way(i)!.from }}, {{ way(i)!.packs }} {{ way(i)!.packs === 1 ? "pack" : "packs" }} of
                  {{ way(i)!.pieces / way(i)!.packs }}</template
                >
                <span v-else-if="i.toBuy" class="text-faint">no offer yet</span>
              </td>
              <td class="mono text-right">{{ way(i)?.price.toFixed(2) ?? "" }}</td>
              <td class="mono text-right">{{ way(i)?.days ?? "" }}</td>
              <td class="text-right">
                <AppButton
                  v-if="site.canWrite.value && i.id.length <= 60"
                  kind="bare"
                  small
                  :aria-label="`Stock of ${i.label}`"
                  @click="edited = i"
                  >Stock</AppButton
                >
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
    <StockDialog v-if="edited" :item="edited" @close="edited = undefined" />
  </section>
</template>
