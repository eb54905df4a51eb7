import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { Small } from "../../../ui/Small";
import { useEditing } from "../context";
import { useChoices } from "../sensing";

const MARK = { suits: "✓", "with limits": "!", "does not suit": "✕" } as const;

/** Every kind of sensor compared with this target, speed, supply and heat; and where the trade disagrees. */
export function WhichSensor() {
  const { evaluated, document, catalogue, set } = useEditing();
  const result = useChoices(evaluated.document).data;
  if (!result) return <Text>Comparing …</Text>;
  const target = catalogue.target_kinds.find((one) => one.code === document.target.kind)?.label ?? "";
  return (
    <Stack gap={3} data-testid="which-sensor">
      <Text color="fg.muted" fontSize="sm">
        For {target.toLowerCase()} at {result.lowest_hz.toFixed(1)} to {result.top_hz.toFixed(0)} Hz. Change speeds,
        supply and temperature under “Requirements”.
      </Text>
      <Grid templateColumns={{ base: "1fr", xl: "1fr 1fr" }} gap={2}>
        {result.choices.map((one) => {
          const chosen = one.kind === document.sensor.kind;
          return (
            <Box
              key={one.kind}
              borderWidth="1px"
              borderColor={chosen ? "signal.fg" : "border"}
              bg={chosen ? "signal.subtle" : "bg.subtle"}
              borderRadius="md"
              px={3}
              py={2}
              data-kind={one.kind}
              data-verdict={one.verdict}
            >
              <Flex justify="space-between" align="center" gap={2}>
                <Text fontWeight="700" color={one.verdict === "does not suit" ? "fg.muted" : "fg"}>
                  {MARK[one.verdict]} {one.label}
                </Text>
                {chosen ? (
                  <Text fontSize="sm">in use</Text>
                ) : (
                  one.verdict !== "does not suit" && (
                    <Small
                      aria-label={`Use: ${one.label}`}
                      onClick={() =>
                        set("sensor", { ...document.sensor, kind: one.kind, facts: null, verification: null })
                      }
                    >
                      Use
                    </Small>
                  )
                )}
              </Flex>
              <Text fontSize="sm">
                {one.verdict === "does not suit" ? one.against.slice(0, -1).join("; ") : one.reasons.join("; ")}.
              </Text>
              {one.verdict !== "does not suit" && (
                <Text fontSize="sm" color="fg.muted">
                  Limits: {one.against.join("; ")}.
                </Text>
              )}
            </Box>
          );
        })}
      </Grid>
      {result.schools.length > 0 && (
        <>
          <Text fontWeight="600">A coil on a toothed ring: two opinions in the trade</Text>
          <Grid templateColumns={{ base: "1fr", xl: "1fr 1fr" }} gap={2}>
            {result.schools.map((one) => (
              <Box key={one.title} borderLeftWidth="4px" borderColor="border.emphasized" bg="bg.subtle" px={3} py={2}>
                <Text fontWeight="600">{one.title}</Text>
                <Text fontSize="sm">{one.text}</Text>
              </Box>
            ))}
          </Grid>
        </>
      )}
    </Stack>
  );
}
