import { CloseButton, Dialog, Portal } from "@chakra-ui/react";
import { dialogSlotRecipe } from "@chakra-ui/react/theme";
import { type ReactNode, useEffect, useLayoutEffect, useRef, useState } from "react";
import { t } from "./words";

/** A dialog; a click beside it does not close it, since it may hold entries. */
export function Sheet({
  open,
  close,
  title,
  children,
  footer,
  size = "lg",
}: {
  open: boolean;
  /** Without it the dialog asks for an answer, and stays until it has one. */
  close?: () => void;
  title: string;
  children: ReactNode;
  footer?: ReactNode;
  size?: "md" | "lg" | "xl";
}) {
  const asked = useAsked(open);
  // it opens once it stands in the page: one that opens with its first frame may be looked for too early, on a busy machine,
  // and then hears neither Escape nor keeps the focus
  const [stands, stand] = useState(false);
  useEffect(() => stand(asked), [asked]);
  const opener = useRef<HTMLElement | null>(null);
  useLayoutEffect(() => {
    if (open) opener.current = document.activeElement as HTMLElement | null;
  }, [open]);
  // the focus returns to what opened it, whatever held it since; an item of the menu is gone then: to the button of the menu
  const back = () =>
    opener.current === document.body || opener.current?.closest("[role=menu]")
      ? document.querySelector<HTMLElement>("header [aria-haspopup=menu]")
      : opener.current?.isConnected
        ? opener.current
        : null;
  if (!asked) return null;
  return (
    <Dialog.Root
      recipe={dialogSlotRecipe}
      open={open && stands}
      onOpenChange={(change) => !change.open && close?.()}
      size={size}
      scrollBehavior="inside"
      closeOnInteractOutside={false}
      finalFocusEl={back}
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="bg.panel" color="fg" mx={2}>
            <Dialog.Header>
              <Dialog.Title>{title}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body tabIndex={0}>{children}</Dialog.Body>
            {footer && <Dialog.Footer flexWrap="wrap">{footer}</Dialog.Footer>}
            {close && (
              <Dialog.CloseTrigger asChild>
                <CloseButton size="md" aria-label={t("Close")} />
              </Dialog.CloseTrigger>
            )}
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

/** Whether something was open before, or is: what nobody has asked for need not be made. */
export function useAsked(open: boolean) {
  const [asked, ask] = useState(open);
  if (open && !asked) ask(true);
  return asked || open;
}
