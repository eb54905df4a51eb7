import { CloseButton, Dialog, Portal } from "@chakra-ui/react";
import type { ReactNode } from "react";
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
  return (
    <Dialog.Root
      open={open}
      onOpenChange={(change) => !change.open && close?.()}
      size={size}
      scrollBehavior="inside"
      closeOnInteractOutside={false}
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
