import type { UseQueryResult } from "@tanstack/react-query";
import { useDeferredValue } from "react";

/** useArrived is what a query has brought, drawn in small steps, so that a slow device answers meanwhile. */
export const useArrived = <T>(query: Pick<UseQueryResult<T>, "data">): T | undefined => useDeferredValue(query.data);
