/** Who is signed in. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, answer, useToken } from "@/api/client";
import { forgetSteps } from "./steps";

export function useSession() {
  const queries = useQueryClient();
  const query = useQuery({
    queryKey: ["session"],
    staleTime: Infinity,
    queryFn: async () => {
      const data = await answer(api.GET("/api/session"));
      useToken(data.token);
      return data;
    },
  });
  /** Asks again who is here: after signing in or out the token is another. */
  const refresh = async () => {
    await queries.invalidateQueries({ queryKey: ["session"] });
  };
  /** Forgets what was read as somebody else, and asks who is here: the page listens to that answer and goes to the sign-in by it. */
  const left = async () => {
    forgetSteps();
    queries.removeQueries({ predicate: (q) => q.queryKey[0] !== "session" });
    await refresh();
  };
  const signOut = async () => {
    await api.DELETE("/api/session");
    await left();
  };
  /** Also on every other device. */
  const signOutEverywhere = async () => {
    await api.DELETE("/api/sessions");
    await left();
  };
  const failed = computed(() => query.error.value?.message);
  return { session: query.data, loading: query.isPending, failed, refresh, signOut, signOutEverywhere };
}
