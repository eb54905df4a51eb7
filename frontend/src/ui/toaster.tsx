import { Button, createToaster, Flex, Portal, Stack, Toast, Toaster } from "@chakra-ui/react";
import { Refusal } from "../api/client";

const toaster = createToaster({ placement: "bottom-end", pauseOnPageIdle: true });

/** Say that an action failed, and why, with a way to try it again. */
export function sayFailed(what: string, error: unknown, again?: () => void) {
  const first = error instanceof Refusal ? error.problems[0] : undefined;
  const why = first ? `${first.message} ${first.remedy}` : error instanceof Error ? error.message : "";
  toaster.create({
    type: "error",
    title: `${what} failed`,
    description: why,
    duration: 20_000,
    action: again && { label: "Try again", onClick: again },
  });
}

/** Do something that can fail; a failure is said, and can be tried again. */
export function attempt(what: string, action: () => Promise<unknown>) {
  action().catch((error: unknown) => sayFailed(what, error, () => attempt(what, action)));
}

/** Where failures are said: beside every dialog, so that one of them does not hide it. */
export function Failures() {
  return (
    <Portal>
      <Toaster toaster={toaster} insetInline={{ mdDown: "4" }}>
        {(toast) => (
          <Toast.Root
            width={{ md: "sm" }}
            pointerEvents="auto"
            bg="bg.panel"
            color="fg"
            borderLeftWidth="4px"
            borderColor="bad.fg"
            data-testid="failure"
          >
            <Stack gap={1} flex="1">
              <Toast.Title color="bad.fg">✕ {toast.title}</Toast.Title>
              {toast.description && <Toast.Description>{toast.description}</Toast.Description>}
              <Flex gap={2} mt={1}>
                {toast.action && (
                  <Toast.ActionTrigger asChild>
                    <Button size="sm" variant="outline" minH={{ base: "44px", md: "36px" }}>
                      {toast.action.label}
                    </Button>
                  </Toast.ActionTrigger>
                )}
                <Toast.CloseTrigger asChild>
                  <Button size="sm" variant="ghost" position="static" minH={{ base: "44px", md: "36px" }}>
                    Close
                  </Button>
                </Toast.CloseTrigger>
              </Flex>
            </Stack>
          </Toast.Root>
        )}
      </Toaster>
    </Portal>
  );
}
