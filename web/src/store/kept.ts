import { useCallback, useState } from "react";
import { create } from "zustand";

const useStore = create<Record<string, unknown>>(() => ({}));

/** A panel's own setting under a name: like `useState`, but still there when the panel is opened again, until the page is left. */
export function useKept<T>(name: string, first: T | (() => T)): [T, (to: T | ((was: T) => T)) => void] {
  const [begun] = useState(first);
  const kept = useStore((all) => (name in all ? (all[name] as T) : begun));
  const keep = useCallback(
    (to: T | ((was: T) => T)) =>
      useStore.setState((all) => {
        const was = name in all ? (all[name] as T) : begun;
        return { [name]: typeof to === "function" ? (to as (was: T) => T)(was) : to };
      }),
    [name, begun],
  );
  return [kept, keep];
}

/** Forget every setting. */
export const forgetKept = () => useStore.setState({}, true);
