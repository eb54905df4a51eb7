import { Box, Heading, Stack } from "@chakra-ui/react";
import { useAddressed } from "../../ui/address";
import { Views } from "../../ui/Views";
import { t } from "../../ui/words";
import type { RecordingOut } from "../queries";
import { ByHand } from "./ByHand";
import { Coasting } from "./Coasting";
import { Distance } from "./Distance";
import { Earlier } from "./Earlier";
import { Health } from "./Health";
import { Runs } from "./Runs";
import { Slip } from "./Slip";
import { ToInstallations } from "./shared";

/** What a recording says by itself: its signal, slip, runs there and back; and where it proves a display or a ring. */
export function Answers({ recording }: { recording: RecordingOut }) {
  const [view, choose] = useAddressed("answer");
  const speeds = recording.channels.filter((channel) => channel.quantity === "speed");
  const hasCourse = recording.channels.some(({ quantity }) => quantity === "course" || quantity === "heading");
  const noneShown = recording.lacks.some(({ code }) => code === "shown");
  const views = [];
  if (speeds.length > 0)
    views.push({ code: "health", label: t("Signal health"), content: <Health recording={recording} /> });
  const usual = noneShown ? "by-hand" : recording.afloat && speeds.length > 1 && hasCourse ? "runs" : "health";
  if (speeds.length > 1) {
    // nothing of a boat rolls
    if (!recording.afloat) views.push({ code: "slip", label: t("Slip"), content: <Slip recording={recording} /> });
    if (hasCourse) views.push({ code: "runs", label: t("Reciprocal runs"), content: <Runs recording={recording} /> });
  }
  if (speeds.length > 0) {
    views.push({
      code: "by-hand",
      label: t("Shown by hand"),
      content: <ByHand key={recording.noted.length} recording={recording} />,
    });
    views.push({ code: "distance", label: t("Distance"), content: <Distance recording={recording} /> });
    views.push({ code: "coast", label: t("Coast-down"), content: <Coasting recording={recording} /> });
  }
  return (
    <Stack gap={3} mt={4} data-testid="answers">
      <Heading as="h2" size="md">
        {t("Results")}
      </Heading>
      {!noneShown && <Proving recording={recording} />}
      {views.length > 0 && (
        <Box bg="bg.panel" p={3} borderRadius="md" minW={0}>
          <Views label={t("Results")} chosen={view ?? usual} choose={choose} views={views} />
        </Box>
      )}
      {noneShown && <Proving recording={recording} />}
      <Earlier recording={recording} />
    </Stack>
  );
}

/** The installations that it can prove. */
function Proving({ recording }: { recording: RecordingOut }) {
  const pulses = recording.channels.some((channel) => channel.quantity === "pulses");
  const { usual } = recording;
  const alone = !usual || usual.true_channel === usual.shown_channel;
  if (!pulses && !usual) return null;
  const [lead, to] = pulses
    ? [t("Use as the count of:"), `target?view=capture&recording=${recording.id}`]
    : alone
      ? [t("Or count the turns of the wheel:"), "readout?view=speeds"]
      : [t("Check the display of:"), `readout?view=drive&recording=${recording.id}`];
  return (
    <ToInstallations recording={recording} lead={lead} to={(installation) => `/installation/${installation}/${to}`} />
  );
}
