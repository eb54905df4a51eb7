import "./fields.css";
import { Flex, Text } from "@chakra-ui/react";
import { type ComponentProps, type KeyboardEvent, type ReactNode, useId } from "react";

type Base = { label: string; hint?: string; error?: string };

const NUMBER = /-?\d+(?:[.,]\d+)?/;

/** The text with its number moved by a step; a decimal comma stays one. */
function stepped(text: string, by: number): string | undefined {
  const number = text.match(NUMBER)?.[0];
  if (!number) return undefined;
  const moved = String(Number((Number(number.replace(",", ".")) + by).toFixed(6)));
  return text.replace(number, number.includes(",") ? moved.replace(".", ",") : moved);
}

/** A line of text, or a quantity as people write it; ↑ and ↓ nudge the number in it. */
export function TextField({
  label,
  hint,
  error,
  missing,
  value,
  change,
  done,
  unit,
  meaning,
  nudge,
  numeric,
  type,
  name,
  autoComplete,
  usual,
  testId,
}: Base & {
  value: string;
  change: (value: string) => void;
  /** The text is complete: the field was left, Enter was pressed, or it was stepped. */
  done?: () => void;
  unit?: string;
  meaning?: string;
  nudge?: number;
  numeric?: boolean;
  type?: string;
  name?: string;
  autoComplete?: string;
  /** Nothing is entered yet, and something is needed. */
  missing?: boolean;
  /** What stands for an empty field. */
  usual?: string;
  testId?: string;
}) {
  const keys = (event: KeyboardEvent) => {
    if (event.key === "Enter") done?.();
    if (!nudge || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
    const next = stepped(value, nudge * (event.shiftKey ? 10 : 1) * (event.key === "ArrowUp" ? 1 : -1));
    if (next === undefined) return;
    event.preventDefault();
    change(next);
    done?.();
  };
  return (
    <Labelled label={label} hint={hint} error={error} meaning={meaning}>
      {(said) => (
        <span className="line-and-unit">
          <TextInput
            {...said}
            value={value}
            placeholder={usual}
            onChange={(event) => change(event.target.value)}
            onKeyDown={keys}
            onBlur={done}
            inputMode={numeric ? "decimal" : undefined}
            data-numeric={numeric}
            data-missing={missing}
            aria-required={missing}
            autoComplete={autoComplete ?? "off"}
            type={type}
            name={name}
            data-testid={testId}
          />
          {unit && <span className="unit">{unit}</span>}
        </span>
      )}
    </Labelled>
  );
}

/** A line to type in. Plain elements with a style sheet: a page has dozens of them, and a styled one costs ten times as much. */
export const TextInput = (props: ComponentProps<"input">) => <input className="line" {...props} />;

type Said = { id: string; "aria-describedby"?: string; "aria-invalid"?: true };

/** A label above a field, and below it what is wrong, what was understood, or what is asked for. */
export function Labelled({
  label,
  hint,
  error,
  meaning,
  children,
}: Base & { meaning?: string; children: (said: Said) => ReactNode }) {
  const id = useId();
  const about = `${id}about`;
  const below = error || meaning || hint;
  return (
    <div className="field">
      <label htmlFor={id}>{label}</label>
      {children({ id, "aria-describedby": below ? about : undefined, "aria-invalid": error ? true : undefined })}
      {error ? (
        <span className="wrong" id={about} aria-live="polite">
          {error}
        </span>
      ) : meaning ? (
        <span className="meaning" id={about}>
          = {meaning}
        </span>
      ) : (
        hint && (
          <span className="hint" id={about}>
            {hint}
          </span>
        )
      )}
    </div>
  );
}

export type Option = { code: string; label: string; hint?: string };

type SelectProps = {
  value: string;
  change: (code: string) => void;
  options: readonly Option[];
  /** Its name, where no label stands above it. */
  name?: string;
  testId?: string;
};

/** The choices in a list that opens. */
export function Select({ value, change, options, name, testId, ...said }: SelectProps & Partial<Said>) {
  return (
    <span className="select">
      <select
        {...said}
        className="line"
        aria-label={name}
        value={value}
        onChange={(event) => change(event.target.value)}
        data-testid={testId}
      >
        {options.map((option) => (
          <option key={option.code} value={option.code}>
            {option.label}
          </option>
        ))}
      </select>
    </span>
  );
}

/** One of a few choices. */
export function ChoiceField({
  label,
  hint,
  error,
  value,
  change,
  options,
  testId,
}: Base & { value: string; change: (code: string) => void; options: readonly Option[]; testId?: string }) {
  const chosen = options.find((option) => option.code === value);
  return (
    <Labelled label={label} hint={hint ?? chosen?.hint} error={error}>
      {(said) => <Select {...said} value={value} change={change} options={options} testId={testId} />}
    </Labelled>
  );
}

/** A few choices side by side, one of them taken. */
export function Cards({
  label,
  value,
  change,
  options,
  columns = 1,
}: {
  label: string;
  value: string;
  change: (code: string) => void;
  options: readonly Option[];
  columns?: number;
}) {
  const name = useId();
  return (
    <fieldset style={{ border: 0, padding: 0, margin: 0, minWidth: 0 }}>
      <legend style={{ fontSize: "0.875rem", marginBottom: 4 }}>{label}</legend>
      <div
        style={{
          display: "grid",
          gap: 6,
          gridTemplateColumns: `repeat(auto-fit, minmax(min(100%, ${columns > 1 ? 140 : 260}px), 1fr))`,
        }}
      >
        {options.map((option) => (
          <Flex
            as="label"
            key={option.code}
            align="flex-start"
            gap={3}
            px={3}
            py={2}
            minH="44px"
            cursor="pointer"
            bg={value === option.code ? "signal.subtle" : "bg.subtle"}
            borderWidth="1px"
            borderColor={value === option.code ? "signal.fg" : "border"}
            borderRadius="md"
          >
            <input
              type="radio"
              name={name}
              value={option.code}
              checked={value === option.code}
              onChange={() => change(option.code)}
              style={{ marginTop: 5, accentColor: "var(--chakra-colors-signal-fg)" }}
            />
            <span>
              <Text as="span" display="block" lineHeight="1.3">
                {option.label}
              </Text>
              {option.hint && (
                <Text as="span" display="block" fontSize="xs" color="fg.subtle" lineHeight="1.3">
                  {option.hint}
                </Text>
              )}
            </span>
          </Flex>
        ))}
      </div>
    </fieldset>
  );
}
