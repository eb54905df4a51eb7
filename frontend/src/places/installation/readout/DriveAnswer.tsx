import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Proof, RecordingOut, Wanted } from "../../../recordings/queries";
import { fixed, percent, signed, today } from "../../../ui/format";
import { attempt } from "../../../ui/toaster";
import { t } from "../../../ui/words";
import { observeChain, verifyStage } from "../bench/queries";
import { useEditing } from "../context";
import { LikelyCauses } from "../LikelyCauses";

const MOST_PAIRS = 4;
type CheckedAnswer = { proof: Proof; readout: number; recording: RecordingOut; wanted: Wanted };

/** A few of the speeds that were held, over the whole drive, for the fault finder. */
function someOf(pairs: Proof["check"]["pairs"]) {
  const step = Math.max(Math.ceil(pairs.length / MOST_PAIRS), 1);
  const some = pairs.filter((_, place) => place % step === 0);
  return some.map((pair) => `pair=${pair.true_kmh.toFixed(2)}:${pair.shown_kmh.toFixed(2)}`).join("&");
}

/** What is kept of a drive: shown and true at its mean speed, under what was set then. */
function comparisonOf({ check, runs }: Proof, wanted: Wanted, recording: RecordingOut, role: string) {
  return {
    kind: runs ? ("there_and_back" as const) : ("drive" as const),
    on: (recording.begins_at ?? recording.created_at).slice(0, 10),
    by: role,
    note: "",
    recording: recording.sha256,
    readout: wanted.readout ?? 0,
    setting: wanted.driven_setting ?? null,
    pairs: [{ true_kmh: check.at_kmh, shown_kmh: check.at_kmh * (1 + check.error_pct / 100) }],
    expanded_pct: check.expanded_pct,
    of: "chain" as const,
  };
}

/** Right or wrong, and what to do. */
export function Answer({ proof, readout, recording, wanted }: CheckedAnswer) {
  const { evaluated, document, command, role, set, installationId } = useEditing();
  const name = document.readouts[readout]?.name;
  const used = (document.observations ?? []).some(
    (item) => item.recording === recording.sha256 && item.readout === name,
  );
  const { check, verdict, to_type } = proof;
  const test = evaluated.document.vehicle_kind === "boat" ? ("water" as const) : ("road" as const);
  const note = t("{0}: {1} % ± {2} %", recording.name, signed(check.error_pct), percent(check.expanded_pct)).slice(
    0,
    80,
  );
  return (
    <Box bg="road" color="chalk" borderRadius="lg" borderWidth="3px" borderColor="road.edge" p={4} data-testid="proof">
      <Text fontSize="xl" fontWeight="700">
        {verdict === "wrong" ? "✕" : "✓"} {proof.text}
      </Text>
      {(check.offset_kmh !== 0 || proof.runs) && <Text>{check.text}</Text>}
      {proof.action && !proof.changed && (
        <Text fontWeight="600" color="signal.onRoad">
          {proof.action}
        </Text>
      )}
      <Text color="chalk.dim" fontSize="sm">
        {t(
          "{0} s of steady driving in {1} parts.",
          fixed(check.steady_s, 0),
          check.parts.filter((part) => part.reason === null).length,
        )}{" "}
        {check.lag.found
          ? t(
              "The shown speed comes {0} s late, ± {1} s.",
              fixed(check.lag.lag_s, check.lag.u_s < 0.05 ? 2 : 1),
              fixed(Math.max(2 * check.lag.u_s, 0.01), check.lag.u_s < 0.05 ? 2 : 1),
            )
          : t("How late the shown speed comes cannot be found: the speed hardly changes.")}{" "}
        {!proof.conflict && t("Expected from the installation: {0} %.", signed(proof.expected_error_pct))}
      </Text>
      {proof.conflict && <Text color="signal.onRoad">! {proof.conflict}</Text>}
      {proof.changed && (
        <Text fontWeight="600">
          {test === "water"
            ? t("The setting was changed since these runs. Run again with the new one to prove it.")
            : t("The setting was changed since this drive. Drive again with the new one to prove it.")}
        </Text>
      )}
      {used && (
        <Text color="signal.onRoad">
          {t("This drive is in use: wheel, setting and ± of the installation come from it.")}
        </Text>
      )}
      {check.advice && <Text mt={1}>{check.advice}</Text>}
      {proof.causes.length > 0 && (
        <Box mt={2}>
          <LikelyCauses causes={proof.causes.slice(0, 3)} brief />
        </Box>
      )}
      {verdict === "wrong" && (
        <Link to={`/installation/${installationId}/faults?${someOf(check.pairs)}`}>
          <Text textDecoration="underline" color="signal.onRoad" py={1}>
            {t("Find the cause")}
          </Text>
        </Link>
      )}
      <Flex gap={2} mt={3} wrap="wrap">
        {verdict !== "wrong" && !proof.changed && (
          <Button
            colorPalette="signal"
            size="sm"
            minH={{ base: "44px", md: "36px" }}
            onClick={() => {
              const verification = {
                test,
                on: today(),
                by: role,
                note,
                value: null,
                state: null,
                voided_by: null,
                recording: recording.sha256,
              };
              attempt(t("Saving the test"), () =>
                command((known) =>
                  verifyStage(known, { stage: proof.conflict ? "readout" : null, readout, verification }),
                ),
              );
            }}
          >
            {proof.conflict
              ? t("Save as passed test of the readout alone")
              : test === "water"
                ? t("Save as passed water test")
                : t("Save as passed road test")}
          </Button>
        )}
        {!used && proof.usable && (
          <Button
            colorPalette="signal"
            size="sm"
            minH={{ base: "44px", md: "36px" }}
            variant={verdict === "wrong" ? "solid" : "outline"}
            onClick={() =>
              attempt(t("Using the drive"), () =>
                command((known) => observeChain(known, comparisonOf(proof, wanted, recording, role))),
              )
            }
          >
            {t("Use this drive")}
          </Button>
        )}
        {used && to_type && !proof.changed && (
          <Button
            colorPalette="signal"
            size="sm"
            minH={{ base: "44px", md: "36px" }}
            onClick={() => set(`readouts.${readout}.current_setting`, to_type.value)}
          >
            {t("Entered {0} and read back", to_type.text)}
          </Button>
        )}
      </Flex>
    </Box>
  );
}
