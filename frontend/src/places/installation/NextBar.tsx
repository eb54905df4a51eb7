import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Evaluation, StageName } from "../../api/client";
import { stageLabel } from "../../speedline/SpeedLine";
import { Sheet } from "../../ui/Sheet";

/** The next best action, what it brings, and the steps to do it with the caution that belongs there. */
export function NextBar({
  action,
  go,
  onWater,
}: {
  action: Evaluation["next_action"];
  go: (stage: StageName) => void;
  onWater: boolean;
}) {
  const [open, setOpen] = useState(false);
  const done = action.code === "done";
  return (
    <Flex align="center" gap={3} px={{ base: 3, md: 4 }} py={2} bg={done ? "bg.subtle" : "signal.subtle"} wrap="wrap">
      <Text flex="1" minW="220px" data-testid="next-action">
        <Text as="span" fontWeight="700" color="signal.fg">
          {done ? "✓ " : "Next: "}
          {action.action.replace(/\.$/, "")}.
        </Text>
        <Text as="span" ml={2}>
          {action.brings}
        </Text>
      </Text>
      <Flex gap={2}>
        {action.steps.length > 0 && (
          <Button
            size="sm"
            variant="outline"
            minH={{ base: "44px", md: "36px" }}
            aria-label={`Show steps: ${action.action}`}
            onClick={() => setOpen(true)}
          >
            Show steps
          </Button>
        )}
        {action.stage && (
          <Button
            size="sm"
            colorPalette="signal"
            minH={{ base: "44px", md: "36px" }}
            onClick={() => action.stage && go(action.stage)}
          >
            Go to the {stageLabel(action.stage, onWater).toLowerCase()}
          </Button>
        )}
      </Flex>
      <Sheet open={open} close={() => setOpen(false)} title={action.action} size="md">
        {action.caution && (
          <Box borderLeftWidth="4px" borderColor="signal.fg" bg="signal.subtle" p={3} mb={3}>
            <Text fontWeight="700">Caution</Text>
            <Text>{action.caution}</Text>
          </Box>
        )}
        <ol style={{ paddingLeft: "1.3em", display: "grid", gap: 8, listStyle: "decimal" }}>
          {action.steps.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
        <Text mt={3} color="fg.muted">
          {action.brings} Local codes and the manufacturer's procedure take precedence.
        </Text>
      </Sheet>
    </Flex>
  );
}
