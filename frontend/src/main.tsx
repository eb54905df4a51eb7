import { ChakraProvider } from "@chakra-ui/react";
import { MutationCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { type ReactNode, StrictMode, Suspense, startTransition } from "react";
import { createRoot } from "react-dom/client";
import { ErrorBoundary } from "react-error-boundary";
import { BrowserRouter, Route, Routes, useLocation } from "react-router";
import { Away, Refusal } from "./api/client";
import { askAgain, worthAnother } from "./api/healing";
import { keys, useSession } from "./api/hooks";
import { ahead, PLACES } from "./places/places";
import SignInPlace from "./places/signin/SignInPlace";
import { Frame } from "./ui/Frame";
import { Broken } from "./ui/Guarded";
import { lazily } from "./ui/lazily";
import { Message } from "./ui/Message";
import { restoreTheme, system } from "./ui/theme";
import { sayFailed } from "./ui/toaster";
import { UnitsProvider } from "./ui/units";
import { useInSlices } from "./ui/useInSlices";
import { t } from "./ui/words";

const PairPlace = lazily(() => import("./places/phones/PairPlace"));

restoreTheme();

/** As long as the server asks for, then longer. */
function waited(tries: number, error: unknown) {
  return Math.min((error instanceof Away ? error.retryMs : 1000) * 1.5 ** Math.max(tries - 1, 0), 15_000);
}

/** Every write that fails is said, with a way to try it again; wrong fields are said where they stand. */
const mutationCache = new MutationCache({
  onError: (error, inputs, _, mutation) => {
    const refused = error instanceof Refusal ? error : undefined;
    const stale = refused?.status === 409; // the same again would be refused again
    if (refused?.problems.length || refused?.status === 401 || (stale && mutation.meta?.saysStale)) return;
    const again = () => mutation.execute(inputs).catch(() => undefined);
    sayFailed(String(mutation.meta?.what ?? t("The change")), error, stale ? undefined : again);
  },
});
const client = new QueryClient({
  mutationCache,
  defaultOptions: {
    queries: {
      retry: worthAnother,
      retryDelay: waited,
      refetchInterval: ({ state }) => askAgain(state.error),
      staleTime: 2000,
      networkMode: "always",
    },
    mutations: {
      networkMode: "always",
      retry: (tries, error) => error instanceof Away && tries < 20,
      retryDelay: waited,
    },
  },
});
client.getQueryCache().subscribe((event) => {
  const error = event.query.state.error;
  const lost = error instanceof Refusal && error.status === 401;
  if (event.type === "updated" && event.action.type === "error" && lost)
    client.invalidateQueries({ queryKey: keys.session });
});

function Gate({ children }: { children: ReactNode }) {
  const session = useSession();
  const known = useInSlices(session.data);
  if (known?.signed_in) return children;
  if (known) return <SignInPlace />;
  if (session.data || (session.isPending && session.failureCount === 0)) return <Opening />;
  return (
    <Frame>
      <Message text={new Away().message} />
    </Frame>
  );
}

/** For the moment before there is a page: plain, so that the page itself comes sooner. */
const Opening = () => (
  <p role="status" style={{ padding: 16 }}>
    {t("Opening …")}
  </p>
);

/** A page that fails leaves the rest of the app: its header, and every other page. */
function Pages({ children }: { children: ReactNode }) {
  const { pathname } = useLocation();
  return (
    <ErrorBoundary
      resetKeys={[pathname]}
      fallbackRender={(failure) => (
        <Frame>
          <Broken {...failure} />
        </Frame>
      )}
    >
      {children}
    </ErrorBoundary>
  );
}

function App() {
  return (
    <BrowserRouter>
      <Pages>
        <Suspense fallback={<Opening />}>
          <Routes>
            <Route path="/pair/:secret" element={<PairPlace />} />
            <Route path="*" element={<SignedIn />} />
          </Routes>
        </Suspense>
      </Pages>
    </BrowserRouter>
  );
}

/** Every page that needs an account. */
function SignedIn() {
  return (
    <Gate>
      <Suspense fallback={<Opening />}>
        <Routes>
          {PLACES.map(({ path, Place }) => (
            <Route key={path} path={path} element={<Place />} />
          ))}
          <Route
            path="*"
            element={
              <Frame title={t("Page not found")}>
                <Message text={t("Page not found")} back />
              </Frame>
            }
          />
        </Routes>
      </Suspense>
    </Gate>
  );
}

/** For so long the first drawing waits for what the place shows: drawn once, it does not move again. */
const AHEAD_MS = 400;

// what a link leads to is asked for when it is pressed, not after the page has changed
document.addEventListener("pointerdown", ({ target, button }) => {
  const link = button === 0 && target instanceof Element && target.closest<HTMLAnchorElement>("a[href^='/']");
  if (link && !link.hasAttribute("download")) ahead(client, link.pathname);
});

const root = createRoot(document.getElementById("root") as HTMLElement);
Promise.race([ahead(client, location.pathname), new Promise((done) => window.setTimeout(done, AHEAD_MS))]).then(() =>
  startTransition(() =>
    root.render(
      <StrictMode>
        <ChakraProvider value={system}>
          <QueryClientProvider client={client}>
            <UnitsProvider>
              <App />
            </UnitsProvider>
          </QueryClientProvider>
        </ChakraProvider>
      </StrictMode>,
    ),
  ),
);
