import { Box, Button, chakra, Flex, Text } from "@chakra-ui/react";
import { memo } from "react";
import type { Evaluation, StageName } from "../../api/client";
import { stageLabel } from "../../speedline/stages";
import { useDialog } from "../../ui/address";
import { Sheet } from "../../ui/Sheet";
import { t } from "../../ui/words";
import { Tasks } from "./Tasks";

/** The next best action, what it brings, and the steps to do it with the caution that belongs there. */
export const NextBar = memo(function NextBar({
  action,
  go,
  onWater,
  installationId,
  vehicleId,
}: {
  action: Evaluation["next_action"];
  go: (stage: StageName) => void;
  onWater: boolean;
  installationId: number;
  vehicleId: number;
}) {
  const [dialog, show] = useDialog();
  const done = action.code === "done";
  return (
    <Flex
      align="center"
      gap={2}
      px={{ base: 2, md: 4 }}
      py={{ base: 0.5, md: 1 }}
      bg={done ? "bg.subtle" : "signal.subtle"}
    >
      <chakra.button
        type="button"
        flex="1"
        minW={0}
        minH={{ base: "44px", md: "32px" }}
        textAlign="left"
        lineHeight="1.25"
        lineClamp={2}
        cursor="pointer"
        aria-haspopup="dialog"
        onClick={() => show("next")}
        data-testid="next-action"
      >
        <Text as="span" fontWeight="700" color="signal.fg">
          {done ? "✓" : t("Next:")} {action.action.replace(/\.$/, "")}.
        </Text>
        <Text as="span" ml={2}>
          {action.brings}
        </Text>
      </chakra.button>
      <Flex gap={2} flexShrink={0}>
        <Tasks installationId={installationId} vehicleId={vehicleId} />
        {action.steps.length > 0 && (
          <Button
            size="sm"
            variant="outline"
            display={{ base: "none", md: "inline-flex" }}
            minH="32px"
            aria-label={t("Show steps: {0}", action.action)}
            onClick={() => show("next")}
          >
            {t("Show steps")}
          </Button>
        )}
        {action.stage && (
          <Button
            size="sm"
            colorPalette="signal"
            minH={{ base: "44px", md: "32px" }}
            px={{ base: 2, md: 3 }}
            aria-label={t("Go to the {0}", stageLabel(action.stage, onWater).toLowerCase())}
            onClick={() => action.stage && go(action.stage)}
          >
            <chakra.span display={{ base: "none", md: "inline" }}>
              {t("Go to the {0}", stageLabel(action.stage, onWater).toLowerCase())}
            </chakra.span>
            <chakra.span display={{ base: "inline", md: "none" }}>{stageLabel(action.stage, onWater)}</chakra.span>
          </Button>
        )}
      </Flex>
      <Sheet open={dialog === "next"} close={() => show(null)} title={action.action} size="md">
        {action.caution && (
          <Box borderLeftWidth="4px" borderColor="signal.fg" bg="signal.subtle" p={3} mb={3}>
            <Text fontWeight="700">{t("Caution")}</Text>
            <Text>{action.caution}</Text>
          </Box>
        )}
        <ol style={{ paddingLeft: "1.3em", display: "grid", gap: 8, listStyle: "decimal" }}>
          {action.steps.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
        <Text mt={3} color="fg.muted">
          {t("{0} Local codes and the manufacturer's procedure take precedence.", action.brings)}
        </Text>
      </Sheet>
    </Flex>
  );
});
