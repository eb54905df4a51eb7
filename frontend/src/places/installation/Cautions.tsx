import { Box, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { useEvaluated } from "./context";

type Task = Schemas["CautionShown"]["task"];

/** The cautions of tasks that are done on this page. */
export function Cautions({ tasks }: { tasks: readonly Task[] }) {
  const evaluated = useEvaluated();
  const found = evaluated.result.cautions.filter((item) => tasks.includes(item.task));
  if (found.length === 0) return null;
  return (
    <Box borderLeftWidth="4px" borderColor="signal.fg" bg="bg.subtle" px={3} py={1} data-testid="cautions">
      {found.map((item) => (
        <Text key={item.code} fontSize="sm">
          ! {item.text}
        </Text>
      ))}
    </Box>
  );
}
