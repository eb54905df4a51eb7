import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMarkTask, useTasks } from "../../api/hooks";
import { useDialog } from "../../ui/address";
import { when } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";
import { t } from "../../ui/words";
import { PutOnList } from "../service/PutOnList";

/** What has to be done again on this installation, until somebody ticks it. */
export function Tasks({ installationId, vehicleId }: { installationId: number; vehicleId: number }) {
  const items = useTasks(installationId).data ?? [];
  const markTask = useMarkTask();
  const [dialog, show] = useDialog();
  const open = dialog === "tasks";
  const waiting = items.filter((item) => item.done_at === null);
  if (items.length === 0) return null;
  return (
    <Flex data-testid="tasks">
      <Button
        size="sm"
        variant="outline"
        minH={{ base: "44px", md: "32px" }}
        px={2}
        color={waiting.length > 0 ? "signal.fg" : "fg.muted"}
        onClick={() => show("tasks")}
      >
        {waiting.length > 0 ? t("! {0} to do", waiting.length) : t("✓ Nothing to do")}
      </Button>
      <Sheet open={open} close={() => show(null)} title={t("To do on this installation")}>
        {open &&
          items.map((item) => (
            <Box key={item.id} borderBottomWidth="1px" py={1}>
              <label style={{ display: "flex", gap: 12, minHeight: 44, alignItems: "center", cursor: "pointer" }}>
                <input
                  type="checkbox"
                  checked={item.done_at !== null}
                  disabled={markTask.isPending}
                  onChange={() => markTask.mutate({ id: item.id, done: item.done_at === null })}
                  style={{ width: 20, height: 20, accentColor: "var(--chakra-colors-signal-fg)" }}
                />
                <span>
                  {item.text}
                  <Text as="span" display="block" fontSize="sm" color="fg.muted">
                    {item.put_off
                      ? t("postponed: on the vehicle's list")
                      : item.done_at
                        ? t("done {0} by {1}", when(item.done_at), item.done_by)
                        : t("since {0}", when(item.created_at))}
                  </Text>
                </span>
              </label>
              {item.done_at === null && (
                <PutOnList vehicle={vehicleId} installation={installationId} text={item.text} task={item.id} />
              )}
            </Box>
          ))}
        {markTask.error && <Text color="bad.fg">{markTask.error.message}</Text>}
      </Sheet>
    </Flex>
  );
}
