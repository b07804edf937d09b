import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router";
import { Problem } from "./api/client";
import { router } from "./app";
import { tidy } from "./offline/kept";
import { install } from "./offline/update";
import "./index.css";
import { say } from "./kit/notice";
import { keys } from "./api/keys";

const signedOut = (error: unknown) => {
  if (error instanceof Problem && error.status === 401) queries.setQueryData(keys.me(), null);
};

const queries = new QueryClient({
  queryCache: new QueryCache({ onError: signedOut }),
  mutationCache: new MutationCache({
    onError: signedOut,
    onSuccess: (_data, _sent, _context, { meta }) => {
      if (meta?.said) say(meta.said);
    },
  }),
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      networkMode: "always",
      // Trouble that passes is tried again quietly; a refusal is not.
      retry: (count, error) => error instanceof Problem && error.passing && count < 3,
    },
    mutations: { networkMode: "always" },
  },
});

// What is still to come is marked on the page: whoever looks at it by a program knows when it is whole.
const mark = () => {
  document.documentElement.toggleAttribute("data-coming", queries.isFetching() > 0 || router.state.navigation.state !== "idle");
};
queries.getQueryCache().subscribe(mark);
router.subscribe(mark);

void tidy();
if (import.meta.env.PROD) void install();

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </StrictMode>,
  );
