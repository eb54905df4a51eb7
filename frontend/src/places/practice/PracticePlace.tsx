import { Box, chakra, Flex, Heading, Stack, Text } from "@chakra-ui/react";
import { Link, useNavigate } from "react-router";
import { Progress } from "../../drawings/Progress";
import { Frame } from "../../ui/Frame";
import { fixed, when } from "../../ui/format";
import { Pending } from "../../ui/Pending";
import { Small } from "../../ui/Small";
import { t } from "../../ui/words";
import { useBegin, usePractice } from "./queries";

const Go = chakra(Link);

/** Practice at finding faults: ten graded cases, generated ones, and the account's progress. */
export default function PracticePlace() {
  const practice = usePractice();
  const begin = useBegin();
  const go = useNavigate();
  const start = (number: number | null) => begin.mutate(number, { onSuccess: (made) => go(`/practice/${made.id}`) });
  return (
    <Frame title={t("Practice")}>
      <Box px={{ base: 3, md: 4 }} pb={8} w="100%" maxW="860px" mx="auto">
        <Heading as="h1" size="2xl" pt={3}>
          {t("Practice")}
        </Heading>
        <Text color="fg.muted">
          {t(
            "A fault is hidden in a simulated installation. Every test and every cure costs minutes: find it in as few as possible.",
          )}
        </Text>
        {!practice.data && <Pending asked={practice} text={t("Opening …")} />}
        <Stack gap={2} mt={3} as="ol" listStyleType="none" data-testid="graded">
          {practice.data?.graded.map((item) => (
            <Flex
              as="li"
              key={item.number}
              bg="bg.panel"
              borderRadius="md"
              px={4}
              py={2}
              gap={3}
              align="center"
              wrap="wrap"
            >
              <Text flex="1" minW="200px">
                <b>{t("Case {0}", item.number)}</b> {item.sentence}
              </Text>
              <Text fontFamily="mono">
                {item.best === null ? "" : item.best > 0 ? t("✓ {0} points", item.best) : t("✕ not solved yet")}
              </Text>
              <Small
                aria-label={t("Begin case {0}", item.number)}
                disabled={begin.isPending}
                onClick={() => start(item.number)}
              >
                {t("Begin")}
              </Small>
            </Flex>
          ))}
        </Stack>
        <Flex mt={3} gap={3} align="center" wrap="wrap">
          <Small disabled={begin.isPending} onClick={() => start(null)}>
            {t("Begin a generated case")}
          </Small>
          {practice.data?.mean_points != null && (
            <Text data-testid="progress">
              {t(
                "{0} cases ended, {1} points on average",
                practice.data.played.filter((item) => item.ended).length,
                fixed(practice.data.mean_points, 0),
              )}
            </Text>
          )}
        </Flex>
        {practice.data?.mean_points != null && (
          <Box bg="bg.panel" borderRadius="md" p={3} mt={3}>
            <Progress
              points={practice.data.played
                .filter((item) => item.ended)
                .map((item) => item.points ?? 0)
                .reverse()}
              mean={practice.data.mean_points}
            />
          </Box>
        )}
        {practice.data && practice.data.played.length > 0 && (
          <Box mt={5} data-testid="played">
            <Heading as="h2" size="md" mb={1}>
              {t("Cases played")}
            </Heading>
            {practice.data.played.map((item) => (
              <Flex key={item.id} gap={3} wrap="wrap" py={1}>
                <Go to={`/practice/${item.id}`} textDecoration="underline" color="signal.fg" minH="32px">
                  {item.number ? t("Case {0}", item.number) : t("Generated case")}
                </Go>
                <Text color="fg.muted">
                  {item.ended
                    ? t(
                        "{0}, {1} points in {2} min",
                        when(item.created_at),
                        item.points ?? 0,
                        fixed(item.minutes ?? 0, 0),
                      )
                    : t("{0}, not ended", when(item.created_at))}
                </Text>
              </Flex>
            ))}
          </Box>
        )}
      </Box>
    </Frame>
  );
}
