import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";
import { Measuring } from "../../drawings/Measuring";
import { Sheet } from "../../ui/Sheet";
import { Tick } from "../../ui/Tick";
import { t } from "../../ui/words";
import { useEditing } from "./context";

/** One measurement, step by step, with its caution and the fields it fills. */
export function GuideSheet({
  code,
  close,
  children,
}: {
  code: string | null;
  close: () => void;
  children?: ReactNode;
}) {
  const { catalogue, evaluated } = useEditing();
  const [done, setDone] = useState<number[]>([]);
  const guide = catalogue.guides.find((item) => item.code === code);
  if (!guide) return null;
  const cautions = evaluated.result.cautions.filter((item) => guide.tasks.includes(item.task));
  return (
    <Sheet open close={close} title={guide.title} size="xl">
      <Text color="fg.muted" mb={2}>
        {t("Tools and parts: {0}", guide.needs)}
      </Text>
      {cautions.length > 0 && (
        <Box borderLeftWidth="4px" borderColor="signal.fg" bg="signal.subtle" px={3} py={2} mb={3}>
          {cautions.map((item) => (
            <Text key={item.code} fontWeight="600">
              ! {item.text}
            </Text>
          ))}
        </Box>
      )}
      <Measuring method={guide.code} />
      <Grid templateColumns={{ base: "1fr", md: children ? "1fr 1fr" : "1fr" }} gap={4} mt={3}>
        <Stack as="ol" gap={1} listStyleType="none">
          {guide.steps.map((step, place) => (
            <Flex as="li" key={step} gap={3} align="flex-start" minH="40px">
              <Tick
                checked={done.includes(place)}
                toggle={() => setDone(done.includes(place) ? done.filter((item) => item !== place) : [...done, place])}
              >
                <b>{place + 1}</b> {step}
              </Tick>
            </Flex>
          ))}
        </Stack>
        {children && <Stack gap={3}>{children}</Stack>}
      </Grid>
    </Sheet>
  );
}
