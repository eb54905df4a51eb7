import { Box } from "@chakra-ui/react";
import { useView } from "../../../ui/address";
import { Views } from "../../../ui/Views";
import { t } from "../../../ui/words";
import { ByHand } from "./ByHand";
import { LongRun } from "./LongRun";
import { ReadingsView } from "./Readings";
import { Running } from "./Running";
import { TestCard } from "./TestCard";

/** The bench of an installation: the simulated stand-ins joined up, the test card, the tests by hand, long runs. */
export default function BenchPlace() {
  const [view, choose] = useView("scope");
  return (
    <Box
      as="section"
      aria-label={t("Bench")}
      bg="bg.panel"
      mx={{ base: 3, md: 4 }}
      my={2}
      p={{ base: 3, md: 4 }}
      borderRadius="md"
      flex="1"
    >
      <Views
        label={t("The bench")}
        chosen={view}
        choose={choose}
        views={[
          { code: "scope", label: t("Scope"), content: <Running /> },
          { code: "card", label: t("Test card"), content: <TestCard /> },
          { code: "hand", label: t("Hand tests"), content: <ByHand /> },
          { code: "readings", label: t("Find the cause"), content: <ReadingsView /> },
          { code: "run", label: t("Recorded run and export"), content: <LongRun /> },
        ]}
      />
    </Box>
  );
}
