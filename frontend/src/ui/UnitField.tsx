import type { ComponentProps } from "react";
import { TextField } from "./fields";
import { useUnits } from "./units";

type Rest = Omit<ComponentProps<typeof TextField>, "unit" | "numeric" | "value">;

/** A quantity outside of a document, in this person's unit; `value` keeps the unit with it where it is not the core's. */
export function UnitField(props: Rest & { unit: string; value: string | number }) {
  const { value, change, unit } = props;
  const { own, typed, inOwn } = useUnits();
  return (
    <TextField
      {...props}
      numeric
      unit={own(unit)[0]}
      value={inOwn(value, unit)}
      change={(text) => change(typed(text, unit))}
    />
  );
}
