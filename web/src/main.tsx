import { QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter } from "react-router";
import { RouterProvider } from "react-router/dom";
import { App } from "./App";
import { forget } from "./api/asking";
import { Refused } from "./api/client";
import { Broken } from "./kit/away";
import "./styles.scss";

const client: QueryClient = new QueryClient({
  // A session that has ended leads to the door, unless what was asked is an aside to what is being typed; what is
  // unsaved waits and is stored after it.
  queryCache: new QueryCache({
    onError: (error, query) => {
      if (query.meta?.aside || !(error instanceof Refused && error.status === 401)) return;
      client.setQueryData(["me"], null);
      void forget();
    },
  }),
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false,
      networkMode: "always", // a device that thinks it has no network may reach a server on it
      retry: (_, error) => !(error instanceof Refused && error.status < 500),
      retryDelay: (failures) => Math.min(500 * 2 ** failures, 5000),
    },
    mutations: { networkMode: "always" },
  },
});

// One that can ask before leaving a place, and that shows a page of ours whatever breaks.
const router = createBrowserRouter([{ path: "*", element: <App />, errorElement: <Broken /> }]);

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
);
