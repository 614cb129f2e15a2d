// Things that the shop keeps by name are added to its document from anywhere.
import { useMutation, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { api, unwrap, type Shop } from "../api/client";

/** changeShop stores a change of the newest document of the shop, and shows it everywhere. */
export async function changeShop(client: QueryClient, change: (shop: Shop) => Partial<Shop>) {
  const { shop, version } = await unwrap(api.GET("/api/shop"));
  const saved = await unwrap(api.PUT("/api/shop", { body: { version, shop: { ...shop, ...change(shop) } } }));
  client.setQueryData(["shop"], saved);
}

/** useKeeping changes the shop from a page that has something else open. */
export function useKeeping(onKept: () => void = () => {}) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (change: (shop: Shop) => Partial<Shop>) => changeShop(client, change),
    onSuccess: onKept,
  });
}

/** named puts a thing into a list in place of one of its name. */
export const named = <T extends { name: string }>(list: T[] | undefined, thing: T): T[] => [
  ...(list ?? []).filter((o) => o.name !== thing.name),
  thing,
];
