import { useEffect, useState } from "react";
import type { FieldPath, FieldValues, RegisterOptions, UseFormReturn } from "react-hook-form";
import { Problem } from "../api/client";
import { Field, inputLook } from "./kit";

/** The form pattern: react-hook-form holds the values, each field says what is wrong with it, and what the server refuses
 *  is said at the field that it names. */
interface Of<T extends FieldValues> {
  form: UseFormReturn<T>;
  name: FieldPath<T>;
  label: string;
  hint?: string;
  rules?: RegisterOptions<T>;
}

type Input = React.InputHTMLAttributes<HTMLInputElement>;

/** One line of text, a date or a time. */
export function TextField<T extends FieldValues>({ form, name, label, hint, rules, ...input }: Of<T> & Omit<Input, "form" | "name">) {
  const error = form.getFieldState(name, form.formState).error?.message;
  return (
    <Field label={label} hint={hint} error={error}>
      <input className={inputLook} aria-invalid={Boolean(error)} {...input} {...form.register(name, rules)} />
    </Field>
  );
}

/** The one number field: whole or with decimals by its step, within its bounds, said in words when it is not. */
export function NumberField<T extends FieldValues>({ min, max, step = 1, ...of }: Of<T> & { min: number; max: number; step?: number }) {
  const says = `use ${min} to ${max}`;
  const rules = { valueAsNumber: true, required: says, min: { value: min, message: says }, max: { value: max, message: says } };
  return <TextField {...of} rules={rules as RegisterOptions<T>} type="number" inputMode="decimal" min={min} max={max} step={step} />;
}

/** Says at its field what the server refused; gives what belongs to none. */
export function useRefused<T extends FieldValues>(form: UseFormReturn<T>, error: unknown, fields: Record<string, FieldPath<T>>): unknown {
  const { setError } = form;
  const told = error instanceof Problem ? error.fields.filter((f) => fields[f.location]) : [];
  const names = JSON.stringify(fields); // what says the same is the same: a list written in place is no new one
  useEffect(() => {
    if (!(error instanceof Problem)) return;
    const known = JSON.parse(names) as Record<string, FieldPath<T>>;
    for (const f of error.fields) {
      const name = known[f.location];
      if (name) setError(name, { message: f.message });
    }
  }, [error, names, setError]);
  return error && told.length > 0 && told.length === (error as Problem).fields.length ? null : error;
}

/** A value that has been still for a moment: what follows a key is asked when the typing pauses. */
export function useDebounced<T>(value: T, ms = 350): T {
  const [still, setStill] = useState(value);
  const text = JSON.stringify(value); // what says the same is the same
  useEffect(() => {
    const timer = setTimeout(() => setStill(JSON.parse(text) as T), ms);
    return () => clearTimeout(timer);
  }, [text, ms]);
  return still;
}
