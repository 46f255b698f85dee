/** A row of buttons of which several may be on. */
import { Button } from "antd";
import { useState } from "react";

export function useShown<T extends string>(first: readonly T[]): [Set<T>, (name: T) => void] {
  const [shown, setShown] = useState<Set<T>>(new Set(first));
  const toggle = (name: T) =>
    setShown((old) => {
      const next = new Set(old);
      if (!next.delete(name)) next.add(name);
      return next;
    });
  return [shown, toggle];
}

export function Choices<T extends string>({ of, shown, toggle }: { of: readonly T[]; shown: Set<T>; toggle: (name: T) => void }) {
  return (
    <>
      {of.map((t) => (
        <Button key={t} size="small" type={shown.has(t) ? "primary" : "default"} ghost={shown.has(t)} aria-pressed={shown.has(t)} onClick={() => toggle(t)}>
          {t}
        </Button>
      ))}
    </>
  );
}
