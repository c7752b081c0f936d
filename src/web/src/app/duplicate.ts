/** Another of a node, a room or a rule: what it is like says the server. */
import { api, sentence } from "@/api/client";
import { say } from "@/kit/notices";
import type { SiteContext } from "./site";

/** @returns The key of the new one; undefined where there is none. */
export async function duplicate(site: SiteContext, kind: "node" | "room" | "rule", key: string): Promise<string | undefined> {
  const { data, error } = await api.GET("/api/sites/{site}/duplicates/{kind}/{key}", {
    params: { path: { site: site.key.value, kind, key } },
  });
  if (!data) {
    say(sentence(error), { bad: true });
    return undefined;
  }
  const done = await site.apply(`${data.label} added`, [data.edit]);
  return done.ok ? data.key : undefined;
}
