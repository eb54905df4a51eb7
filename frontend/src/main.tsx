import { ChakraProvider } from "@chakra-ui/react";
import { MutationCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { type ReactNode, StrictMode, Suspense, useDeferredValue } from "react";
import { createRoot } from "react-dom/client";
import { ErrorBoundary } from "react-error-boundary";
import { BrowserRouter, Route, Routes, useLocation } from "react-router";
import { Away, Refusal } from "./api/client";
import { keys, useSession } from "./api/hooks";
import SignInPlace from "./places/signin/SignInPlace";
import { Frame } from "./ui/Frame";
import { Broken } from "./ui/Guarded";
import { lazily } from "./ui/lazily";
import { Message } from "./ui/Message";
import { restoreTheme, system } from "./ui/theme";
import { sayFailed } from "./ui/toaster";
import { UnitsProvider } from "./ui/units";
import { t } from "./ui/words";

const VehiclesPlace = lazily(() => import("./places/vehicles/VehiclesPlace"));
const NewInstallationPlace = lazily(() => import("./places/new/NewInstallationPlace"));
const BinPlace = lazily(() => import("./places/bin/BinPlace"));
const VehiclePlace = lazily(() => import("./places/vehicle/VehiclePlace"));
const RecordingPlace = lazily(() => import("./places/recording/RecordingPlace"));
const PhonePlace = lazily(() => import("./places/recording/PhonePlace"));
const TemplatesPlace = lazily(() => import("./places/jobs/TemplatesPlace"));
const ServicePlace = lazily(() => import("./places/service/ServicePlace"));
const JobsPlace = lazily(() => import("./places/jobs/JobsPlace"));
const PracticePlace = lazily(() => import("./places/practice/PracticePlace"));
const CasePlace = lazily(() => import("./places/practice/CasePlace"));
const TablePlace = lazily(() => import("./places/faults/TablePlace"));
const FaultsPlace = lazily(() => import("./places/faults/FaultsPlace"));
const FaultPlace = lazily(() => import("./places/faults/FaultPlace"));
const SheetPlace = lazily(() => import("./places/jobs/SheetPlace"));
const ShelfPlace = lazily(() => import("./places/shelf/ShelfPlace"));
const PhonesPlace = lazily(() => import("./places/phones/PhonesPlace"));
const PairPlace = lazily(() => import("./places/phones/PairPlace"));
const InstallationPlace = lazily(() => import("./places/installation/InstallationPlace"));

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
      retry: (tries, error) => error instanceof Away && tries < 20,
      retryDelay: waited,
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
  // drawn in slices: what a query brings would be drawn in one go, while the page does not answer
  const known = useDeferredValue(session.data, undefined);
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
          <Route path="/" element={<VehiclesPlace />} />
          <Route path="/new" element={<NewInstallationPlace />} />
          <Route path="/bin" element={<BinPlace />} />
          <Route path="/jobs" element={<TemplatesPlace />} />
          <Route path="/shelf" element={<ShelfPlace />} />
          <Route path="/phones" element={<PhonesPlace />} />
          <Route path="/vehicle/:id" element={<VehiclePlace />} />
          <Route path="/vehicle/:id/service" element={<ServicePlace />} />
          <Route path="/vehicle/:id/record" element={<PhonePlace />} />
          <Route path="/recording/:id" element={<RecordingPlace />} />
          <Route path="/installation/:id/jobs" element={<JobsPlace />} />
          <Route path="/installation/:id/faults" element={<FaultsPlace />} />
          <Route path="/practice" element={<PracticePlace />} />
          <Route path="/practice/:id" element={<CasePlace />} />
          <Route path="/fault-table" element={<TablePlace />} />
          <Route path="/fault/:id" element={<FaultPlace />} />
          <Route path="/sheet/:id" element={<SheetPlace />} />
          <Route path="/installation/:id/:stage?" element={<InstallationPlace />} />
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

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <UnitsProvider>
          <App />
        </UnitsProvider>
      </QueryClientProvider>
    </ChakraProvider>
  </StrictMode>,
);
