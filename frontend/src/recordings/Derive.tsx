import { Flex, Grid, Text } from "@chakra-ui/react";
import { memo, useState } from "react";
import type { Schemas } from "../api/client";
import { useSheet } from "../api/hooks";
import { ChoiceField } from "../ui/fields";
import { Small } from "../ui/Small";
import { t } from "../ui/words";
import { type RecordingOut, useDeriving } from "./queries";
import { refusalOf } from "./sending";

type Kind = Schemas["DeriveIn"]["kind"];

/** Channels that follow from others: added, and removed. */
export const Derive = memo(function Derive({ recording }: { recording: RecordingOut }) {
  const { add, remove } = useDeriving(recording.id);
  const rows = useSheet(recording.vehicle).data?.sheet.rows ?? [];
  const named = (quantities: string[]) =>
    recording.channels
      .filter((channel) => quantities.includes(channel.quantity))
      .map(({ name }) => ({ code: name, label: name }));
  const [speeds, pulses] = [named(["speed"]), named(["pulses", "frequency"])];
  const kinds: { code: Kind; label: string }[] = [
    ...(speeds.length > 0
      ? ([
          { code: "acceleration", label: t("Acceleration") },
          { code: "distance", label: t("Distance") },
        ] as const)
      : []),
    ...(speeds.length > 1
      ? ([
          { code: "slip", label: t("Slip against another speed") },
          { code: "ratio", label: t("Ratio to another speed") },
        ] as const)
      : []),
    ...(pulses.length > 0 && rows.length > 0
      ? ([{ code: "wheel_speed", label: t("Speed from pulses, by an installation") }] as const)
      : []),
  ];
  const [asked, ask] = useState({ kind: "", of: "", against: "", installation: "" });
  const kind = kinds.find((item) => item.code === asked.kind)?.code ?? kinds[0]?.code;
  const options = kind === "wheel_speed" ? pulses : speeds;
  const known = (value: string, fallback: string | undefined) =>
    options.some((option) => option.code === value) ? value : (fallback ?? options[0]?.code ?? "");
  const of = known(asked.of, kind === "wheel_speed" ? undefined : recording.usual?.shown_channel);
  const against = known(asked.against, recording.usual?.true_channel);
  const installation = rows.find((row) => String(row.installation) === asked.installation) ?? rows[0];
  const mine = recording.channels.filter((channel) => channel.derived);
  if (!kind) return null;
  return (
    <details data-testid="derive">
      <summary style={{ cursor: "pointer", minHeight: 32 }}>{t("Derived channels: {0}", mine.length)}</summary>
      <Grid templateColumns="repeat(auto-fit, minmax(170px, 1fr))" gap={3} mt={1}>
        <ChoiceField
          label={t("New channel")}
          value={kind}
          change={(code) => ask({ ...asked, kind: code })}
          options={kinds}
          testId="derive-kind"
        />
        <ChoiceField
          label={kind === "wheel_speed" ? t("From the pulses") : t("From the speed")}
          value={of}
          change={(code) => ask({ ...asked, of: code })}
          options={options}
          testId="derive-of"
        />
        {(kind === "slip" || kind === "ratio") && (
          <ChoiceField
            label={t("Against")}
            value={against}
            change={(code) => ask({ ...asked, against: code })}
            options={speeds}
            testId="derive-against"
          />
        )}
        {kind === "wheel_speed" && installation && (
          <ChoiceField
            label={t("Installation")}
            value={String(installation.installation)}
            change={(code) => ask({ ...asked, installation: code })}
            options={rows.map((row) => ({ code: String(row.installation), label: row.name }))}
            testId="derive-installation"
          />
        )}
      </Grid>
      <Flex gap={2} mt={2} wrap="wrap" align="center">
        <Small
          onClick={() =>
            add.mutate({
              kind,
              of,
              against,
              installation: kind === "wheel_speed" ? (installation?.installation ?? null) : null,
              noted: [],
            })
          }
          disabled={add.isPending}
        >
          {add.isPending ? t("Computing …") : t("Add channel")}
        </Small>
        {mine.map((channel) => (
          <Small
            key={channel.name}
            variant="ghost"
            onClick={() => remove.mutate(channel.name)}
            disabled={remove.isPending}
            whiteSpace="normal"
            h="auto"
          >
            {t("Remove {0}", channel.name)}
          </Small>
        ))}
      </Flex>
      {add.error && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {refusalOf(add.error)}
        </Text>
      )}
    </details>
  );
});
