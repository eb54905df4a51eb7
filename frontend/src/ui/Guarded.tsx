import { Box, Button, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { t } from "./words";

/** A part of a page that fails alone: what it is, why, and another try; it also tries again when `again` changes. */
export function Guarded({ part, again, children }: { part: string; again?: unknown; children: ReactNode }) {
  return (
    <ErrorBoundary resetKeys={[again]} fallbackRender={(failure) => <Broken {...failure} part={part} />}>
      {children}
    </ErrorBoundary>
  );
}

export function Broken({ error, resetErrorBoundary, part = t("This page") }: FallbackProps & { part?: string }) {
  return (
    <Box role="alert" bg="bad.subtle" px={4} py={3} data-testid="broken">
      <Text color="bad.fg" fontWeight="600">
        {t("✕ {0} cannot be shown. What you entered is kept.", part)}
      </Text>
      <Text fontSize="sm">{error instanceof Error ? error.message : String(error)}</Text>
      <Button size="sm" variant="outline" mt={2} onClick={resetErrorBoundary}>
        {t("Try again")}
      </Button>
    </Box>
  );
}
