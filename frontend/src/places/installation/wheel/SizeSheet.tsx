import { Box, Button, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useCatalogue } from "../../../api/hooks";
import { Meant } from "../../../ui/Meant";
import { Sheet } from "../../../ui/Sheet";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";

/** For those who do not know the notation: the kind of wheel first, then the sizes usual on it. */
export function SizeSheet({ open, close, take }: { open: boolean; close: () => void; take: (text: string) => void }) {
  const groups = useCatalogue().data?.common_sizes ?? [];
  const [label, choose] = useState("Car");
  const { show } = useUnits();
  const group = groups.find((item) => item.label === label) ?? groups[0];
  return (
    <Sheet open={open} close={close} title={t("Find the size")} size="xl">
      <Grid templateColumns={{ base: "1fr", md: "230px 1fr" }} gap={4}>
        <Flex direction={{ base: "row", md: "column" }} wrap="wrap" gap={1}>
          {groups.map((item) => (
            <Button
              key={item.label}
              size="sm"
              minH="40px"
              justifyContent="flex-start"
              whiteSpace="normal"
              textAlign="left"
              variant={item.label === label ? "solid" : "outline"}
              colorPalette={item.label === label ? "signal" : undefined}
              aria-pressed={item.label === label}
              onClick={() => choose(item.label)}
            >
              {item.label}
            </Button>
          ))}
        </Flex>
        {group && (
          <Stack gap={2}>
            <Text>{group.look}</Text>
            <Meant term="bead_seat" />
            {group.sizes.map((size) => (
              <Button
                key={size.text}
                variant="outline"
                h="auto"
                minH="44px"
                py={2}
                justifyContent="space-between"
                whiteSpace="normal"
                textAlign="left"
                gap={3}
                onClick={() => {
                  take(size.text);
                  close();
                }}
              >
                <Box>
                  <Text fontFamily="mono" fontWeight="700">
                    {size.text}
                  </Text>
                  <Text fontSize="xs" color="fg.muted" fontWeight="400">
                    {size.understood}
                  </Text>
                </Box>
                <Text fontFamily="mono" flexShrink={0}>
                  ⌀ {show(size.diameter_mm, "mm", 0.1).join(" ")}
                </Text>
              </Button>
            ))}
          </Stack>
        )}
      </Grid>
    </Sheet>
  );
}
