import { Box, Flex, Heading, Stack, Text } from "@chakra-ui/react";
import { TestDrawing } from "../../drawings/TestDrawing";
import { fixed } from "../../ui/format";
import { Small } from "../../ui/Small";
import { t } from "../../ui/words";
import { type Fault, type TestToDo, useFaultChanges } from "./queries";

/** A test: its caution, its steps, and its outcomes with what each would mean. */
export function NextTest({ fault, test }: { fault: Fault; test: TestToDo }) {
  const { answer } = useFaultChanges(fault);
  const send = (outcome: string) => answer.mutate({ key: crypto.randomUUID(), test: test.code, outcome });
  return (
    <Box bg="bg.panel" borderRadius="md" p={4} data-test={test.code}>
      <Heading as="h3" size="md">
        {test.title},{" "}
        <Text as="span" fontWeight="400" color="fg.muted">
          {t("{0} min", fixed(test.minutes, 0))}
        </Text>
      </Heading>
      {test.caution && (
        <Text mt={2} borderLeftWidth="4px" borderColor="signal.fg" pl={3}>
          {t("Caution: {0}", test.caution)}
        </Text>
      )}
      <Flex gap={4} mt={2} align="center" wrap={{ base: "wrap", md: "nowrap" }}>
        <Stack as="ol" gap={1} pl={5} style={{ listStyleType: "decimal" }} flex="1" minW="200px">
          {test.steps.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </Stack>
        <Box w={{ base: "100%", md: "210px" }} flexShrink={0}>
          <TestDrawing test={test.code} target={fault.drawn} title={test.title} />
        </Box>
      </Flex>
      <Text fontWeight="600" mt={3} mb={1}>
        {t("Result")}
      </Text>
      <Stack gap={2}>
        {test.outcomes.map((outcome) => (
          <Flex key={outcome.code} gap={3} align="center" wrap="wrap">
            <Small
              minW="180px"
              minH="44px"
              justifyContent="flex-start"
              disabled={answer.isPending}
              onClick={() => send(outcome.code)}
              data-outcome={outcome.code}
            >
              {outcome.label}
            </Small>
            <Text fontSize="sm" color="fg.muted" flex="1" minW="180px">
              {outcome.leads_to}
            </Text>
          </Flex>
        ))}
        <Box>
          {answer.isPending && (
            <Text role="status" color="signal.fg" fontWeight="600">
              {t("… Sending the answer. Keep this page open until the server has it.")}
            </Text>
          )}
          <Small variant="ghost" disabled={answer.isPending} onClick={() => send("cannot")}>
            {t("Cannot be done here")}
          </Small>
        </Box>
      </Stack>
    </Box>
  );
}
