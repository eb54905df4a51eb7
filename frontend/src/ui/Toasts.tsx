import { Button, createToaster, Flex, Portal, Stack, Toast, Toaster } from "@chakra-ui/react";
import { toastSlotRecipe } from "@chakra-ui/react/theme";
import { useEffect } from "react";
import { t } from "./words";

const toaster = createToaster({ placement: "bottom-end", pauseOnPageIdle: true });

export const said = (failure: Parameters<typeof toaster.create>[0]) => toaster.create(failure);

/** Where failures are said: beside every dialog, so that one of them does not hide it. */
export default function Toasts({ ready }: { ready: () => void }) {
  useEffect(ready, [ready]);
  return (
    <Portal>
      <Toaster toaster={toaster} insetInline={{ mdDown: "4" }}>
        {(toast) => (
          <Toast.Root
            recipe={toastSlotRecipe}
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
                    {t("Close")}
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
