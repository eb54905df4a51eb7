import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { api, data } from "../../api/client";
import { Measuring } from "../../drawings/Measuring";
import { Message } from "../../ui/Message";
import { Sheet } from "../../ui/Sheet";
import { Small } from "../../ui/Small";
import { Tick } from "../../ui/Tick";
import { t } from "../../ui/words";
import { useEditing } from "./context";

/** The guides to the measurements of this installation, in its own words: asked for with the stage, so that they are there
 * without the server too. */
function useGuides() {
  const { installationId, evaluated } = useEditing();
  return useQuery({
    queryKey: ["guides", installationId, ...evaluated.result.guides],
    queryFn: ({ signal }) => data(api.POST("/api/guides", { body: evaluated.document, signal })),
    staleTime: Infinity,
  });
}

/** Opens a guide, where this installation has one. */
export function ShowSteps({ code, open, ...rest }: { code: string; open: (code: string) => void; mb?: string }) {
  useGuides();
  if (!useEditing().evaluated.result.guides.includes(code)) return null;
  return (
    <Small alignSelf="flex-start" onClick={() => open(code)} {...rest}>
      {t("Show steps")}
    </Small>
  );
}

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
  const { evaluated } = useEditing();
  const [done, setDone] = useState<number[]>([]);
  const { data: guides, failureReason, refetch } = useGuides();
  useEffect(() => {
    if (code) refetch(); // what is fitted may have changed since
  }, [code, refetch]);
  if (code === null) return null;
  const guide = guides?.find((item) => item.code === code);
  if (!guide)
    return (
      <Sheet open close={close} title={t("Show steps")} size="xl">
        <Message
          text={failureReason?.message ?? (guides ? t("This installation has no such step.") : t("Opening …"))}
          bad={failureReason !== null}
        />
      </Sheet>
    );
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
