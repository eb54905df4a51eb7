import { Field, Flex, Input, NativeSelect, Text } from "@chakra-ui/react";
import { type KeyboardEvent, useId } from "react";

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
    <Field.Root invalid={Boolean(error)} gap={1}>
      <Field.Label fontSize="sm" color="fg.muted">
        {label}
      </Field.Label>
      <Flex align="center" gap={2} w="100%">
        <Input
          value={value}
          placeholder={usual}
          onChange={(event) => change(event.target.value)}
          onKeyDown={keys}
          onBlur={done}
          inputMode={numeric ? "decimal" : undefined}
          fontFamily={numeric ? "mono" : "body"}
          fontSize="md"
          minH={{ base: "44px", md: "40px" }}
          bg="bg.subtle"
          borderColor={missing ? "signal.fg" : "border.emphasized"}
          aria-required={missing}
          autoComplete={autoComplete ?? "off"}
          type={type}
          name={name}
          data-testid={testId}
        />
        {unit && (
          <Text color="fg.muted" fontSize="sm" whiteSpace="nowrap">
            {unit}
          </Text>
        )}
      </Flex>
      {meaning && !error && (
        <Text fontSize="sm" color="signal.fg">
          = {meaning}
        </Text>
      )}
      {error ? (
        <Field.ErrorText color="bad.fg" fontSize="sm">
          {error}
        </Field.ErrorText>
      ) : (
        hint &&
        !meaning && (
          <Field.HelperText color="fg.subtle" fontSize="xs">
            {hint}
          </Field.HelperText>
        )
      )}
    </Field.Root>
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
export function Select({ value, change, options, name, testId }: SelectProps) {
  return (
    <NativeSelect.Root size="md">
      <NativeSelect.Field
        aria-label={name}
        value={value}
        onChange={(event) => change(event.target.value)}
        minH={{ base: "44px", md: "40px" }}
        bg="bg.subtle"
        borderColor="border.emphasized"
        data-testid={testId}
      >
        {options.map((option) => (
          <option key={option.code} value={option.code}>
            {option.label}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
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
    <Field.Root invalid={Boolean(error)} gap={1}>
      <Field.Label fontSize="sm" color="fg.muted">
        {label}
      </Field.Label>
      <Select value={value} change={change} options={options} testId={testId} />
      {error && (
        <Field.ErrorText color="bad.fg" fontSize="sm">
          {error}
        </Field.ErrorText>
      )}
      {!error && (hint || chosen?.hint) && (
        <Field.HelperText color="fg.subtle" fontSize="xs">
          {hint ?? chosen?.hint}
        </Field.HelperText>
      )}
    </Field.Root>
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
