import { Box, Button, Flex, Text } from "@chakra-ui/react";
import type { Catalogue, Schemas, StageName } from "../../api/client";
import type { Draft } from "../../editing/useDraft";
import { belongsTo, unfinished } from "../../speedline/SpeedLine";
import { stageLabel } from "../../speedline/stages";
import { offer } from "../../ui/files";
import { Small } from "../../ui/Small";
import { t } from "../../ui/words";
import { fieldLabel } from "./schema";

/** Somebody else saved other fields meanwhile: they were taken over, and nothing of one's own was touched. */
export function Taken(props: { taken: Draft["taken"]; catalogue: Catalogue; dismiss: () => void }) {
  const { taken, catalogue, dismiss } = props;
  if (!taken) return null;
  return (
    <Flex role="status" bg="bg.subtle" px={4} py={2} gap={3} align="center" wrap="wrap" data-testid="taken">
      <Text>
        {t(
          "Revision {0}, saved by someone else, was merged with your changes. Taken over: {1}.",
          taken.number,
          [...new Set(taken.paths.map((path) => fieldLabel(catalogue, path)))].join(", "),
        )}
      </Text>
      <Button size="sm" variant="outline" onClick={dismiss}>
        {t("Close")}
      </Button>
    </Flex>
  );
}

/** A draft kept on this device that cannot be used: it can be taken out as a file. */
export function BrokenDraft({
  text,
  installationId,
  drop,
}: {
  text: string;
  installationId: number;
  drop: () => void;
}) {
  return (
    <Flex role="alert" bg="bad.subtle" px={4} py={2} gap={3} align="center" wrap="wrap" data-testid="broken-draft">
      <Text color="bad.fg">{t("✕ A draft on this device cannot be used. The saved version is shown.")}</Text>
      <Button size="sm" variant="outline" onClick={() => offer(new Blob([text]), `draft-${installationId}.json`)}>
        {t("Save the draft as a file")}
      </Button>
      <Button size="sm" variant="outline" onClick={drop}>
        {t("Close")}
      </Button>
    </Flex>
  );
}

const LOOK_EVERY_MS = 100;
const LOOKS = 30;

/** Put the cursor into an entry, once its form is there; what it is hidden in is opened. */
function focusEntry(path: string, looks = LOOKS) {
  const found = document.querySelector<HTMLElement>(`[data-testid="${path}"]`);
  if (!found) {
    if (looks > 0) window.setTimeout(() => focusEntry(path, looks - 1), LOOK_EVERY_MS);
    return;
  }
  for (let around = found.closest("details"); around; around = around.parentElement?.closest("details") ?? null)
    around.open = true;
  found.focus();
  found.scrollIntoView({ block: "center" });
}

/** What stands in the way of the figures: what is still to enter, or what cannot be used. */
export function Problems(props: {
  problems: Schemas["FieldProblem"][];
  catalogue: Catalogue;
  choose: (stage: StageName) => void;
  chooseReadout: (place: number) => void;
  onWater: boolean;
}) {
  const { problems, catalogue, choose, chooseReadout, onWater } = props;
  if (problems.length === 0) return null;
  const go = (path: string) => {
    const readout = /^readouts\.(\d+)/.exec(path)?.[1];
    if (readout) chooseReadout(Number(readout));
    choose(belongsTo(path));
    focusEntry(path);
  };
  const stageOf = (path: string) => (
    <Button
      size="xs"
      variant="outline"
      minH={{ base: "44px", md: "28px" }}
      aria-label={t("{0}: go to {1}", stageLabel(belongsTo(path), onWater), fieldLabel(catalogue, path))}
      onClick={() => go(path)}
    >
      {stageLabel(belongsTo(path), onWater)}
    </Button>
  );
  if (unfinished(problems))
    return (
      <Flex bg="signal.subtle" px={{ base: 3, md: 4 }} py={2} gap={2} wrap="wrap" align="center">
        <Text color="signal.fg" fontWeight="600">
          {t(
            "Still to enter: {0}.",
            [...new Set(problems.map((problem) => fieldLabel(catalogue, problem.path)))].join(", "),
          )}
        </Text>
        {stageOf(problems[0]?.path ?? "")}
      </Flex>
    );
  return (
    <Box role="alert" bg="bad.subtle" px={{ base: 3, md: 4 }} py={2}>
      {problems
        .filter((problem) => !problem.missing)
        .slice(0, 4)
        .map((problem) => (
          <Flex key={problem.path + problem.message} align="center" gap={2} wrap="wrap">
            <Text color="bad.fg" fontWeight="600">
              ✕ {problem.message}
            </Text>
            <Text>{problem.remedy}</Text>
            {stageOf(problem.path)}
          </Flex>
        ))}
    </Box>
  );
}

/** An import takes the place of everything that is entered here: it is asked for, and can be undone. */
export function Replacing({ was, by, yes, no }: { was: string; by: string; yes: () => void; no: () => void }) {
  return (
    <Box
      role="alert"
      bg="bg.subtle"
      borderLeftWidth="4px"
      borderColor="signal.fg"
      px={4}
      py={3}
      data-testid="replacing"
    >
      <Text fontWeight="600">
        {t("Replace everything that is entered in “{0}” by the file's “{1}”? Tests and observations as well.", was, by)}
      </Text>
      <Text fontSize="sm">
        {t("The revisions stay in the logbook, and Undo takes it back. To keep both, import it under Vehicles.")}
      </Text>
      <Flex gap={2} mt={2} wrap="wrap">
        <Small colorPalette="signal" variant="solid" onClick={yes}>
          {t("Replace")}
        </Small>
        <Small onClick={no}>{t("Keep as it is")}</Small>
      </Flex>
    </Box>
  );
}
