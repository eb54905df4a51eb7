import type { QueryClient } from "@tanstack/react-query";
import { Away, type Installation, newKey, Refusal, type RevisionOut, type Schemas } from "../api/client";
import { keys, saveInstallation } from "../api/hooks";
import { type Found, forget, keep, recover } from "./kept";
import { EditSession, type Failure, type Saved, type Sending } from "./session";

export type InstallationSession = { session: EditSession<Installation>; found: Found };
type Open = InstallationSession & { stopWaiting: () => void };

/** Sessions with something left to save outlive their page of the app, and are taken up again by the next. */
const open = new Map<string, Open>();

/** The session of an installation: the one that is still saving, or a new one from what is saved and kept. */
export function sessionFor(
  account: string,
  id: number,
  head: RevisionOut,
  client: QueryClient,
): InstallationSession & { stay: () => void; leave: () => void } {
  const place = `${account} ${id}`;
  const made = open.get(place) ?? make(account, id, head, client);
  const stay = () => {
    made.stopWaiting();
    open.set(place, made);
    made.session.stay();
  };
  const leave = () => {
    made.session.leave();
    made.stopWaiting();
    made.stopWaiting = made.session.subscribe(done);
    done();
    function done() {
      if (made.session.read().save !== "saved" || open.get(place) !== made) return;
      made.stopWaiting();
      open.delete(place);
      made.session.rest();
    }
  };
  return { ...made, stay, leave };
}

const signedInAs = (client: QueryClient) => client.getQueryData<Schemas["SessionOut"]>(keys.session)?.username;

function make(account: string, id: number, head: RevisionOut, client: QueryClient): Open {
  const found = recover(account, id, head.document);
  const session = new EditSession<Installation>(
    asSaved(head),
    {
      // what one person left unsaved is never sent in the name of the next who signs in here
      send: async (sending, leaving) =>
        signedInAs(client) === account ? send(id, sending, leaving) : { kind: "signed out", message: "" },
      keep: (edits) => (edits ? keep(account, id, edits) : forget(account, id)),
      saved: (revision) => {
        client.setQueryData(
          keys.installation(id),
          (old: { head: RevisionOut } | undefined) => old && { ...old, head: { ...old.head, ...revision } },
        );
        client.invalidateQueries({ queryKey: keys.revisions(id) });
        client.invalidateQueries({ queryKey: keys.vehicles });
      },
      newKey,
    },
    found.kept,
  );
  return { session, found, stopWaiting: () => {} };
}

export const asSaved = ({ number, amended, document }: RevisionOut): Saved<Installation> => ({
  number,
  amended,
  document,
});

async function send(
  id: number,
  sending: Sending<Installation>,
  leaving: boolean,
): Promise<Saved<Installation> | Failure<Installation>> {
  try {
    return asSaved(await saveInstallation(id, sending, leaving));
  } catch (error) {
    const message = error instanceof Error ? error.message : "";
    if (error instanceof Away) return { kind: "away", message: "" };
    if (!(error instanceof Refusal) || error.status >= 500) return { kind: "failed", message };
    if (error.status === 409) return { kind: "newer", theirs: error.theirs && asSaved(error.theirs), message };
    return { kind: error.status === 401 ? "signed out" : "refused", message };
  }
}
