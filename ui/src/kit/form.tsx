import { useMutation } from "@tanstack/react-query";
import { useEffect, useState, type ReactNode } from "react";
import {
  Controller,
  useForm,
  type DefaultValues,
  type FieldPath,
  type FieldPathValue,
  type FieldValues,
  type RegisterOptions,
  type UseFormReturn,
} from "react-hook-form";
import { Problem } from "../api/client";
import { Button, Choice, Field, inputLook, Select, Tick, Trouble } from "./kit";
import { Num } from "./number";

/** The form pattern: react-hook-form holds the values, each field says what is wrong with it, and what the server refuses
 *  is said at the field that it names. */
interface Of<T extends FieldValues> {
  form: UseFormReturn<T>;
  name: FieldPath<T>;
  label: string;
  hint?: string;
  rules?: RegisterOptions<T>;
  /** In a table whose head says the label. */
  wordless?: boolean;
}

type Input = React.InputHTMLAttributes<HTMLInputElement>;

/** One line of text, a date, a time or a secret. */
export function TextField<T extends FieldValues>({
  form,
  name,
  label,
  hint,
  rules,
  wordless,
  className = "",
  ...input
}: Of<T> & Omit<Input, "form" | "name">) {
  const error = form.getFieldState(name, form.formState).error?.message;
  return (
    <Field label={label} hint={hint} error={error} wordless={wordless}>
      <input className={`${inputLook} ${className}`} aria-invalid={Boolean(error)} {...input} {...form.register(name, rules)} />
    </Field>
  );
}

/** Several lines of text. */
export function LinesField<T extends FieldValues>({
  form,
  name,
  label,
  hint,
  rules,
  ...area
}: Of<T> & Omit<React.TextareaHTMLAttributes<HTMLTextAreaElement>, "form" | "name">) {
  const error = form.getFieldState(name, form.formState).error?.message;
  return (
    <Field label={label} hint={hint} error={error}>
      <textarea className={`${inputLook} py-2`} rows={3} aria-invalid={Boolean(error)} {...area} {...form.register(name, rules)} />
    </Field>
  );
}

/** The one number field: whole or with decimals, within its bounds, said in words when it is not. */
export function NumberField<T extends FieldValues>({
  form,
  name,
  label,
  hint,
  wordless,
  min,
  max,
  step,
  optional,
  className = "",
}: Of<T> & { min: number; max: number; step?: number; optional?: boolean; className?: string }) {
  const error = form.getFieldState(name, form.formState).error?.message;
  const says = Number.isFinite(max) ? `use ${min} to ${max}` : `use ${min} or more`;
  const fits = (n: number) => n >= min && n <= max && (step !== undefined || Number.isInteger(n));
  const within = (n: number | undefined) =>
    (n === undefined ? optional : fits(n)) || (step === undefined ? `${says}, a whole number` : says);
  return (
    <Field label={label} hint={hint} error={error} wordless={wordless}>
      <Controller
        control={form.control}
        name={name}
        rules={{ validate: (n) => within(n as number | undefined) }}
        render={({ field }) => (
          <Num
            ref={field.ref}
            value={field.value as number | undefined}
            onChange={field.onChange}
            onBlur={field.onBlur}
            whole={step === undefined}
            className={className}
            aria-invalid={Boolean(error)}
          />
        )}
      />
    </Field>
  );
}

type Options<V extends string> = readonly (V | { value: V; label: string })[];

/** One of many. */
export function PickField<T extends FieldValues, N extends FieldPath<T>>({
  form,
  name,
  label,
  hint,
  options,
  wordless,
}: Of<T> & { name: N; options: Options<FieldPathValue<T, N> & string> }) {
  const error = form.getFieldState(name, form.formState).error?.message;
  return (
    <Field label={label} hint={hint} error={error} wordless={wordless}>
      <Controller
        control={form.control}
        name={name}
        render={({ field }) => <Select value={field.value as FieldPathValue<T, N> & string} onChange={field.onChange} options={options} />}
      />
    </Field>
  );
}

/** One of few, all in sight. */
export function ChoiceField<T extends FieldValues, N extends FieldPath<T>>({
  form,
  name,
  label,
  options,
}: Of<T> & { name: N; options: readonly { value: FieldPathValue<T, N> & string; label: string }[] }) {
  return (
    <Controller
      control={form.control}
      name={name}
      render={({ field }) => (
        <Choice label={label} value={field.value as FieldPathValue<T, N> & string} onChange={field.onChange} options={options} />
      )}
    />
  );
}

/** Yes or no. */
export function TickField<T extends FieldValues>({ form, name, label, wordless, className }: Of<T> & { className?: string }) {
  return (
    <Controller
      control={form.control}
      name={name}
      render={({ field }) => (
        <Tick label={label} on={Boolean(field.value)} onChange={field.onChange} wordless={wordless} className={className} />
      )}
    />
  );
}

/** Which field of a form the server means by its own name for it. */
type At<T extends FieldValues> = Record<string, FieldPath<T>> | ((location: string) => FieldPath<T>);

/** Says at its field what the server refused; gives what belongs to none. */
export function useRefused<T extends FieldValues>(form: UseFormReturn<T>, error: unknown, at: At<T>): unknown {
  const { setError, getValues } = form;
  const refused = error instanceof Problem ? error.fields : [];
  const fields = refused.flatMap((f) => {
    const name = typeof at === "function" ? at(f.location) : at[f.location];
    const known = typeof at !== "function" || (name && getValues(name) !== undefined); // a made name may be none of the form's
    return name && known ? [{ name, message: f.message }] : [];
  });
  const told = JSON.stringify(fields); // what says the same is the same
  useEffect(() => {
    for (const { name, message } of JSON.parse(told) as typeof fields) setError(name, { message });
  }, [error, told, setError]);
  return refused.length > 0 && fields.length === refused.length ? null : error;
}

/** What is filled in and saved by one button: the values, the saving, and what the server refused. */
export function useEntry<T extends FieldValues, R>({
  start,
  save,
  said,
  onSaved,
  at,
}: {
  start: DefaultValues<T>;
  save: (values: T) => Promise<R>;
  /** What is said when it is saved. */
  said?: string;
  /** What follows once it is saved; `clear` empties the fields, but for what was typed into them while the answer was on its way. */
  onSaved?: (answer: R, clear: () => void) => void;
  /** Which field the server means, by its own name for it; by default they are called alike. */
  at?: At<T>;
}) {
  const form = useForm<T>({ defaultValues: start });
  const saving = useMutation({
    mutationFn: save,
    ...(said && { meta: { said } }),
    onSuccess: (answer, sent) => onSaved?.(answer, () => clearSent(form, sent)),
  });
  const alike = Object.fromEntries(Object.keys(start).map((key) => [key, key])) as Record<string, FieldPath<T>>;
  const error = useRefused(form, saving.error, at ?? alike);
  return { form, error, saving, submit: form.handleSubmit((values) => saving.mutate(values)) };
}

/** Empties the fields that still hold what was sent: whoever has begun with the next entry loses nothing of it. */
function clearSent<T extends FieldValues>(form: UseFormReturn<T>, sent: T) {
  for (const name of Object.keys(form.formState.defaultValues ?? {}) as FieldPath<T>[])
    if (JSON.stringify(form.getValues(name)) === JSON.stringify(sent[name])) form.resetField(name);
}

/** The fields of an entry, what was refused, and the button that saves. */
export function Entry({
  of,
  act,
  children,
  more,
  className = "grid gap-3",
  label,
}: {
  of: { submit: () => Promise<void>; error: unknown; saving: { isPending: boolean } };
  act: string;
  children: ReactNode;
  /** Other buttons beside the one that saves. */
  more?: ReactNode;
  className?: string;
  label?: string;
}) {
  return (
    <form
      noValidate
      aria-label={label}
      className={className}
      onSubmit={(e) => {
        e.preventDefault();
        void of.submit();
      }}
    >
      {children}
      {of.error !== null && of.error !== undefined && <Trouble error={of.error} />}
      <div className="flex flex-wrap gap-2">
        <Button look="act" type="submit" disabled={of.saving.isPending}>
          {of.saving.isPending ? "Saving…" : act}
        </Button>
        {more}
      </div>
    </form>
  );
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
