import { QueryClient } from "@tanstack/react-query";

/** Everything asked is in this browser, so nothing is refetched by itself. */
export const queryClient = new QueryClient({
  defaultOptions: { queries: { staleTime: Infinity, retry: false, refetchOnWindowFocus: false } },
});
