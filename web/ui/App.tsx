import { MutationCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { duration } from "../../core/time/words.ts";
import { Refused } from "../live/api.ts";
import { useNow } from "../live/clock.ts";
import { useMe, useReleaseReplies, useTroubles } from "../live/queries.ts";
import { useStream } from "../live/stream.ts";
import { CallBar } from "../views/call/CallBar.tsx";
import { PickedUp } from "../views/call/PickedUp.tsx";
import styles from "./App.module.css";
import { MayBreak, tellFault } from "./Broken.tsx";
import { Button } from "./Button.tsx";
import { Toasts, useSay } from "./Toasts.tsx";
import { TopBar } from "./TopBar.tsx";

interface Props {
  readonly view: string;
  readonly children: ReactNode;
  readonly onOpenLead?: (id: string) => void;
  readonly onNew?: () => void;
}

/** What every view stands in: the toasts, the cache, the live stream and the bar on top. */
export function App(props: Props) {
  return (
    <Toasts>
      <Cached {...props} />
    </Toasts>
  );
}

/** The cache of what was asked for. An act that is refused says so, also where nobody thought of it. */
function Cached(props: Props) {
  const say = useSay();
  const [client] = useState(
    () =>
      new QueryClient({
        mutationCache: new MutationCache({
          onError: (error, _sent, _context, mutation) => {
            if (!mutation.options.onError) say.wrong(error.message);
          },
        }),
        defaultOptions: { queries: { refetchOnWindowFocus: false, staleTime: 5_000, retry: 1 } },
      }),
  );
  useEffect(() => {
    const unheard = ({ reason }: PromiseRejectionEvent) => {
      say.wrong(reason instanceof Error ? reason.message : "Something went wrong. Try it again.");
      if (!(reason instanceof Refused)) tellFault(reason, "Something");
    };
    window.addEventListener("unhandledrejection", unheard);
    return () => window.removeEventListener("unhandledrejection", unheard);
  }, [say]);
  return (
    <QueryClientProvider client={client}>
      <Frame client={client} {...props} />
    </QueryClientProvider>
  );
}

function Frame({ client, view, children, onOpenLead, onNew }: Props & { readonly client: QueryClient }) {
  const connected = useStream(client);
  return (
    <div className={styles.app}>
      <MayBreak part="The bar on top">
        <TopBar
          view={view}
          onOpenLead={onOpenLead ?? ((id) => location.assign(`/?lead=${id}`))}
          onNew={onNew}
        />
      </MayBreak>
      {!connected && (
        <p className={styles.cut} role="alert">
          The line to the desk is cut. What you see may be old; it comes back by itself.
        </p>
      )}
      <MayBreak part="What is wrong with the desk">
        <Troubles />
      </MayBreak>
      <MayBreak part="The call">
        <CallBar />
        <PickedUp />
      </MayBreak>
      <MayBreak part="This view">{children}</MayBreak>
    </div>
  );
}

const WAYS = { email: "Mail is", text: "The line for texts is", chat: "Team chat is" } as const;

/** What is wrong with the whole desk is everybody's business: what waits, since when, and that nothing is lost. */
function Troubles() {
  const now = useNow();
  const { data = [] } = useTroubles();
  return data.map(({ key, channel, since, waiting, error, said, sourceId }) => (
    <p key={key} className={styles.trouble} role="alert" title={error}>
      {channel
        ? `${WAYS[channel]} down for ${duration(Math.max(60_000, now - Date.parse(since)))}. ${waiting} ${waiting === 1 ? "message waits" : "messages wait"}; each goes once, as soon as it is back.`
        : said}
      {sourceId && <LetGo sourceId={sourceId} />}
    </p>
  ));
}

/** Replies that are held go, or are dropped, in one step. */
function LetGo({ sourceId }: { readonly sourceId: string }) {
  const release = useReleaseReplies(sourceId);
  const { data: me } = useMe();
  if (!me?.rights.includes("setup.change")) return null;
  return (
    <span className={styles.acts}>
      <Button disabled={release.isPending} onClick={() => release.mutate(true)}>
        Send them
      </Button>
      <Button look="bare" disabled={release.isPending} onClick={() => release.mutate(false)}>
        Drop them
      </Button>
    </span>
  );
}
