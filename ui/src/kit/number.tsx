import { useState } from "react";
import { typed } from "./format";
import { inputLook } from "./kit";

type Input = Omit<React.ComponentProps<"input">, "value" | "onChange" | "type">;

/** The one number input: a comma or a point, whole or with decimals. While somebody types it shows what they typed, so
 *  that a field can be emptied; what is no number, or out of bounds, is told by onChange as it is. */
export function Num({
  value,
  onChange,
  whole,
  className = "",
  ...input
}: Input & { value: number | undefined; onChange: (n: number | undefined) => void; whole?: boolean }) {
  const [text, setText] = useState<string>();
  return (
    <input
      {...input}
      className={`${inputLook} num ${className}`}
      type="text" // a browser's own number input takes a comma or a point by its language, not both
      inputMode={whole ? "numeric" : "decimal"}
      autoComplete="off"
      value={text ?? (value === undefined || Number.isNaN(value) ? "" : String(Number(value.toFixed(4))))}
      onChange={(e) => {
        setText(e.target.value);
        onChange(typed(e.target.value));
      }}
      onBlur={(e) => {
        if (!Number.isNaN(typed(text ?? ""))) setText(undefined); // what is no number stays to be mended
        input.onBlur?.(e);
      }}
    />
  );
}

/** A number input for what is at hand at once: nothing typed leaves the value as it was, and it stays within its bounds. */
export function Count({
  value,
  onChange,
  min = 0,
  max = Infinity,
  ...input
}: Omit<Parameters<typeof Num>[0], "value" | "onChange" | "min" | "max"> & {
  value: number;
  onChange: (n: number) => void;
  min?: number;
  max?: number;
}) {
  return (
    <Num
      {...input}
      value={value}
      onChange={(n) => {
        if (n !== undefined && Number.isFinite(n)) onChange(Math.min(max, Math.max(min, input.whole ? Math.round(n) : n)));
      }}
    />
  );
}
