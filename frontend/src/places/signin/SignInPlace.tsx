import { Box, Button, chakra, Heading, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useSession, useSignIn } from "../../api/hooks";
import { EvidenceStroke } from "../../speedline/EvidenceStroke";
import { Frame } from "../../ui/Frame";
import { TextField } from "../../ui/fields";
import { t } from "../../ui/words";

/** Sign in, or open the demo workshop with one press. */
export default function SignInPlace() {
  const session = useSession().data;
  const { password, demo } = useSignIn();
  const [inputs, set] = useState({ username: "", password: "" });
  const error = password.error ?? demo.error;
  return (
    <Frame title={t("Sign in")}>
      <Box maxW="880px" w="100%" mx="auto" px={4} py={{ base: 4, md: 12 }}>
        <Heading as="h1" size={{ base: "3xl", md: "5xl" }} lineHeight="1.1">
          {t("From a wheel to the true number on the display")}
        </Heading>
        <Box my={4} color="signal.fg" maxW="520px">
          <EvidenceStroke evidence="assumed" />
        </Box>
        <Text fontSize="lg" maxW="620px" mb={6}>
          {t(
            "Enter the wheel, the target, the sensor and the display. You get the setting to enter, what the display will show, its uncertainty, and what to measure next.",
          )}
        </Text>
        <Stack direction={{ base: "column", md: "row" }} gap={6} align="flex-start">
          {session?.demo && (
            <Box bg="bg.panel" p={5} borderRadius="md" flex="1" w="100%">
              <Heading as="h2" size="lg" mb={2}>
                {t("Demo")}
              </Heading>
              <Text mb={4}>{t("Six vehicles of Cormorant Spit Speed Week, each with a mistake to find.")}</Text>
              <Button
                colorPalette="signal"
                size="lg"
                minH="48px"
                loading={demo.isPending}
                onClick={() => demo.mutate()}
              >
                {t("Open the demo workshop")}
              </Button>
            </Box>
          )}
          <chakra.form
            bg="bg.panel"
            p={5}
            borderRadius="md"
            flex="1"
            w="100%"
            onSubmit={(event) => {
              event.preventDefault();
              password.mutate(inputs);
            }}
          >
            <Heading as="h2" size="lg" mb={2}>
              {t("Your workshop")}
            </Heading>
            <Stack gap={3}>
              <TextField
                label={t("Name")}
                name="username"
                autoComplete="username"
                value={inputs.username}
                change={(username) => set({ ...inputs, username })}
              />
              <TextField
                label={t("Password")}
                name="password"
                type="password"
                autoComplete="current-password"
                value={inputs.password}
                change={(secret) => set({ ...inputs, password: secret })}
              />
              {error && (
                <Text role="alert" color="bad.fg">
                  {error.message}
                </Text>
              )}
              <Button type="submit" variant="outline" minH="44px" loading={password.isPending}>
                {t("Sign in")}
              </Button>
            </Stack>
          </chakra.form>
        </Stack>
      </Box>
    </Frame>
  );
}
