import { Box, Button, chakra, Flex, Text } from "@chakra-ui/react";
import { useIsFetching, useMutationState } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Link, useNavigate } from "react-router";
import { Away } from "../api/client";
import { useSession, useSignIn } from "../api/hooks";
import { Help } from "./Help";
import { useKeys } from "./keys";
import { currentTheme, setTheme } from "./theme";
import { Failures } from "./toaster";
import { useUnits } from "./units";

const Home = chakra(Link);

/** The top of every page and the keys that work everywhere. */
export function Frame({ children, middle }: { children: ReactNode; middle?: ReactNode }) {
  const session = useSession().data;
  const { out } = useSignIn();
  const go = useNavigate();
  const [theme, show] = useState(currentTheme());
  const [help, openHelp] = useState(false);
  const flip = () => {
    setTheme(theme === "dark" ? "light" : "dark");
    show(currentTheme());
  };
  const units = useUnits();
  useKeys({ "?": () => openHelp(true), t: flip, u: units.flip, y: () => go("/") });
  return (
    <Flex direction="column" minH="100dvh">
      <Flex
        as="header"
        align="center"
        gap={{ base: 1, md: 3 }}
        px={{ base: 2, md: 4 }}
        minH="48px"
        wrap={middle ? "wrap" : "nowrap"}
      >
        <Home
          to="/"
          aria-label="Wheelometron, to the vehicles"
          fontWeight="700"
          fontSize="lg"
          color="fg"
          py={2}
          display="flex"
          alignItems="center"
          gap={2}
        >
          <svg width="26" height="18" viewBox="0 0 26 18" aria-hidden="true">
            <path d="M1 16h7m3 0h6m3 0h5" stroke="currentColor" strokeWidth="2.4" />
            <circle cx="13" cy="7" r="5.6" fill="none" stroke="var(--chakra-colors-signal-fg)" strokeWidth="2.2" />
          </svg>
          <chakra.span display={{ base: middle ? "none" : "inline", md: "inline" }} fontSize={{ base: "md", md: "lg" }}>
            Wheelometron
          </chakra.span>
        </Home>
        <Box flex="1" minW={0}>
          {middle}
        </Box>

        <Flex align="center" gap={1}>
          {session?.signed_in && (
            <Text color="fg.muted" fontSize="sm" display={{ base: "none", lg: "block" }} mr={2}>
              {session.workshop}, {session.role}
            </Text>
          )}
          <Quiet onClick={units.flip}>{units.speedUnit}</Quiet>
          <Quiet onClick={flip} label={theme === "dark" ? "Light theme" : "Dark theme"}>
            {theme === "dark" ? "Light" : "Dark"}
            <chakra.span display={{ base: "none", md: "inline" }} whiteSpace="pre">
              {" theme"}
            </chakra.span>
          </Quiet>
          <Quiet onClick={() => openHelp(true)} label="Keys and help">
            ?
          </Quiet>
          {session?.signed_in && (
            <Quiet onClick={() => out.mutate(undefined, { onSuccess: () => go("/") })}>Sign out</Quiet>
          )}
        </Flex>
      </Flex>
      <Box as="main" flex="1" display="flex" flexDirection="column" minW={0}>
        <AwayBar />
        {children}
      </Box>
      <Failures />
      <Help open={help} close={() => openHelp(false)} />
    </Flex>
  );
}

/** Says that something is waiting for the server, while it is tried again. */
function AwayBar() {
  const reasons = useMutationState({
    filters: { status: "pending" },
    select: (mutation) => mutation.state.failureReason,
  });
  const waiting = useIsFetching({ predicate: (query) => query.state.fetchFailureReason instanceof Away });
  if (!waiting && !reasons.some((reason) => reason instanceof Away)) return null;
  return (
    <Text role="status" bg="signal.subtle" px={4} py={1} data-testid="away">
      The server cannot be reached. Trying again …
    </Text>
  );
}

export function Quiet({
  onClick,
  children,
  label,
  disabled,
  pressed,
}: {
  onClick: () => void;
  children: ReactNode;
  label?: string;
  disabled?: boolean;
  pressed?: boolean;
}) {
  return (
    <Button
      variant="ghost"
      size="sm"
      minH={{ base: "44px", md: "36px" }}
      px={{ base: 1.5, md: 2 }}
      minW={0}
      color={pressed ? "signal.fg" : "fg"}
      textDecoration={pressed ? "underline" : undefined}
      onClick={onClick}
      aria-label={label}
      aria-pressed={pressed}
      disabled={disabled}
    >
      {children}
    </Button>
  );
}
