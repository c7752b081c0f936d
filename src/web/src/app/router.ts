import { createRouter, createWebHistory } from "vue-router";
import { stations } from "./stations";

const home = () => import("./Home.vue");

/** Every station has an address of its own; those of a node carry the node. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", component: home },
    ...stations.map((s) => ({ path: `/:site/${s.key}/:node?`, name: s.key, component: s.page, meta: { station: s.key } })),
    {
      path: "/:site/wall/:node?",
      component: () => import("@/stations/watch/views/WallPage.vue"),
      meta: { station: "watch", bare: true },
    },
    { path: "/s", component: () => import("@/stations/watch/views/SharedPage.vue"), meta: { open: true } },
    { path: "/notices", component: () => import("./NoticesPage.vue"), meta: { open: true } },
    { path: "/:rest(.*)*", redirect: "/" },
  ],
});
