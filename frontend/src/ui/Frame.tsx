import { Box, Button, chakra, Flex, SkipNavContent, SkipNavLink, Text } from "@chakra-ui/react";
import { useIsFetching, useMutationState } from "@tanstack/react-query";
import { memo, type ReactNode, Suspense, useEffect, useState } from "react";
import { Link, useLocation, useNavigate, useNavigationType } from "react-router";
import { Away, isServerFault } from "../api/client";
import { useSession, useSignIn } from "../api/hooks";
import { useDialog } from "./address";
import { Announcer } from "./announce";
import { useKeys } from "./keys";
import { lazily } from "./lazily";
import { MenuButton } from "./MenuButton";
import type { MenuItem } from "./MoreMenu";
import { Newer } from "./Newer";
import { currentTheme, setTheme } from "./theme";
import { Failures } from "./toaster";
import { useUnits } from "./units";
import { choose, language, named, t } from "./words";

const Home = chakra(Link);

/** The top of every page, one bar, and the keys that work everywhere. */
export function Frame({
  children,
  title,
  middle,
  tools,
  items = NOTHING,
}: {
  children: ReactNode;
  /** Of the page, in the browser's tab and history. */
  title?: string;
  middle?: ReactNode;
  /** What a page needs at hand, in the bar. */
  tools?: ReactNode;
  /** The rest of its actions, in the menu. */
  items?: MenuItem[];
}) {
  const back = useNavigationType() === "POP";
  // biome-ignore lint/correctness/useExhaustiveDependencies: another page begins at its top; Back returns to its place
  useEffect(() => {
    if (!back) window.scrollTo(0, 0);
    moved ||= location.pathname !== FIRST;
    if (moved) beginAtHeading();
  }, []);
  return (
    <Flex direction="column" minH="100dvh">
      <title>{title ? t("{0} – Wheelometron", title) : t("Wheelometron")}</title>
      <Top middle={middle} tools={tools} items={items} />
      <Box as="main" flex="1" display="flex" flexDirection="column" minW={0}>
        <SkipNavContent />
        <AwayBar />
        <Newer />
        <Unsent />
        {children}
      </Box>
      <Announcer />
      <Failures />
    </Flex>
  );
}

const NOTHING: MenuItem[] = [];
const FIRST = location.pathname;
/** Whether somebody has gone from the page that was loaded to another. */
let moved = false;

/** What was pressed is gone with its page: the next Tab, and what is read aloud, begin at the heading of the new one. */
function beginAtHeading() {
  if (document.activeElement !== document.body) return;
  const heading = document.querySelector<HTMLElement>("main h1, header h1");
  heading?.setAttribute("tabindex", "-1");
  heading?.focus({ preventScroll: true });
}

const FIELDS = "main input:not([type=hidden], [type=file]), main select, main textarea";
const DRAWINGS = "main svg [tabindex='0'], main [role=group][aria-keyshortcuts]";

/** Put the keys on the first of these that is seen. */
const focusOn = (these: string) => () =>
  [...document.querySelectorAll<HTMLElement>(these)].find((one) => one.getClientRects().length > 0)?.focus();

type Tops = { middle?: ReactNode; tools?: ReactNode; items: MenuItem[] };

/** The bar, drawn anew only when something of its own changes. */
const Top = memo(function Top({ middle, tools, items }: Tops) {
  const session = useSession().data;
  const { out } = useSignIn();
  const go = useNavigate();
  const [theme, show] = useState(currentTheme());
  const [dialog, open] = useDialog();
  const [menu, openMenu] = useState(false);
  const flip = () => {
    setTheme(theme === "dark" ? "light" : "dark");
    show(currentTheme());
  };
  const units = useUnits();
  useKeys({
    "?": () => open("help"),
    t: flip,
    u: units.flip,
    y: () => go("/"),
    e: focusOn(FIELDS),
    d: focusOn(DRAWINGS),
  });
  const everywhere: MenuItem[] = [
    { label: theme === "dark" ? t("Light theme") : t("Dark theme"), act: flip, apart: items.length > 0 },
    { label: t("Units: {0}, change", units.label), act: units.flip },
    ...(session?.languages ?? [])
      .filter((code) => code !== language())
      .map((code) => ({ label: t("Language: {0}", named(code)), act: () => choose(code) })),
    { label: t("Keys and help"), act: () => open("help") },
  ];
  if (session?.signed_in)
    everywhere.push(
      { label: t("Practice at finding faults"), act: () => go("/practice") },
      { label: t("Parts shelf"), act: () => go("/shelf") },
      { label: t("Fault table"), act: () => go("/fault-table") },
      { label: t("Phones and tablets"), act: () => go("/phones") },
      {
        label: t("Sign out"),
        act: () => out.mutate(undefined, { onSuccess: () => go("/") }),
        apart: true,
      },
    );
  return (
    <>
      <SkipNavLink>{t("Skip to the main content")}</SkipNavLink>
      <Flex as="header" align="center" gap={{ base: 1, md: 2 }} px={{ base: 2, md: 4 }} minH="48px">
        <Home
          to="/"
          aria-label={t("Wheelometron, to the vehicles")}
          fontWeight="700"
          fontSize="lg"
          color="fg"
          minH="44px"
          display="flex"
          alignItems="center"
          gap={2}
        >
          <svg width="26" height="18" viewBox="0 0 26 18" aria-hidden="true">
            <path d="M1 16h7m3 0h6m3 0h5" stroke="currentColor" strokeWidth="2.4" />
            <circle cx="13" cy="7" r="5.6" fill="none" stroke="var(--chakra-colors-signal-fg)" strokeWidth="2.2" />
          </svg>
          {!middle && t("Wheelometron")}
        </Home>
        <Box flex="1" minW={0}>
          {middle}
        </Box>
        <Flex align="center" gap={{ base: 0, md: 1 }}>
          {tools}
          <chakra.span display={{ base: "none", md: "inline" }}>
            <Quiet onClick={units.flip}>{units.label}</Quiet>
          </chakra.span>
          {menu ? (
            <Suspense fallback={<MenuButton />}>
              <MoreMenu
                items={[...items, ...everywhere]}
                about={session?.signed_in ? `${session.workshop}, ${session.role}` : undefined}
              />
            </Suspense>
          ) : (
            <MenuButton
              aria-haspopup="menu"
              onPointerEnter={loadMenu}
              onFocus={loadMenu}
              onClick={() => openMenu(true)}
            />
          )}
        </Flex>
      </Flex>
      {dialog === "help" && (
        <Suspense fallback={null}>
          <Help open close={() => open(null)} />
        </Suspense>
      )}
    </>
  );
});

const Help = lazily(() => import("./Help"));
const loadMenu = () => import("./MoreMenu");
const MoreMenu = lazily(loadMenu);

const SEND_EVERY_MS = 4000;

/** What was done on job sheets without a line is sent from any page; until then its number stands here. */
function Unsent() {
  const session = useSession().data;
  const account = session?.signed_in ? session.username : "";
  const onSheet = useLocation().pathname.startsWith("/sheet/"); // which says it itself
  const [count, show] = useState(0);
  useEffect(() => {
    if (!account || onSheet) return show(0);
    let gone = false;
    const look = async () => {
      const { queueOf } = await import("../jobs/queue");
      const open = async () => (await queueOf(account).waiting()).filter((item) => !item.refused).length;
      const waiting = await open();
      if (!gone) show(waiting);
      if (waiting === 0) return;
      await queueOf(account)
        .flush()
        .catch(() => undefined);
      if (!gone) show(await open());
    };
    void look().catch(() => undefined);
    const timer = window.setInterval(() => void look().catch(() => undefined), SEND_EVERY_MS);
    return () => {
      gone = true;
      window.clearInterval(timer);
    };
  }, [account, onSheet]);
  if (count === 0) return null;
  return (
    <Text role="status" bg="signal.subtle" px={4} py={1} data-testid="unsent">
      {count === 1
        ? t("One entry of a job sheet is not sent yet.")
        : t("{0} entries of job sheets are not sent yet.", count)}
    </Text>
  );
}

/** Says that something is waiting for the server, while it is tried again. */
function AwayBar() {
  const reasons = useMutationState({
    filters: { status: "pending" },
    select: (mutation) => mutation.state.failureReason,
  });
  const waiting = useIsFetching({ predicate: (query) => query.state.fetchFailureReason instanceof Away });
  const failing = useIsFetching({ predicate: (query) => isServerFault(query.state.fetchFailureReason) });
  const away = waiting > 0 || reasons.some((reason) => reason instanceof Away);
  if (!away && !failing) return null;
  return (
    <Text role="status" bg="signal.subtle" px={4} py={1} data-testid={away ? "away" : "failing"}>
      {away
        ? t("The server cannot be reached. Trying again …")
        : t("The server failed at a part of this page. Trying again …")}
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
