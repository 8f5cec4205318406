import { MutationCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { duration } from "../../core/time/words.ts";
import { Refused } from "../live/api.ts";
import { useNow } from "../live/clock.ts";
import { useKeys } from "../live/keys.ts";
import { useMe, useReleaseReplies, useTroubles } from "../live/queries.ts";
import { useStream } from "../live/stream.ts";
import { Button } from "../ui/Button.tsx";
import { Toasts, useSay } from "../ui/Toasts.tsx";
import { CallBar } from "../views/call/CallBar.tsx";
import { PickedUp } from "../views/call/PickedUp.tsx";
import { KeysDialog } from "../views/desk/dialogs.tsx";
import { NewLead } from "../views/desk/NewLead.tsx";
import { Tutorial } from "../views/tutorial/Tutorial.tsx";
import styles from "./App.module.css";
import { MayBreak, tellFault } from "./Broken.tsx";
import { TopBar } from "./TopBar.tsx";

interface Props {
  readonly view: string;
  readonly children: ReactNode;
  readonly onOpenLead?: (id: string) => void;
  /** Without the bar on top: for a screen nobody works at. */
  readonly bare?: boolean;
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

function Frame({
  client,
  view,
  children,
  onOpenLead,
  bare = false,
}: Props & { readonly client: QueryClient }) {
  const connected = useStream(client);
  const { data: me } = useMe();
  const [asked, ask] = useState<"new" | "keys" | null>(null);
  const openLead = onOpenLead ?? ((id: string) => location.assign(`/?lead=${id}`));
  const mayEnter = me?.rights.includes("leads") ?? false;
  useKeys({
    n: () => mayEnter && ask("new"),
    r: () => me?.rights.includes("leads") && view !== "Rounds" && location.assign("/rounds"),
    "?": () => ask("keys"),
    arrowdown: () => alongRows(1),
    arrowup: () => alongRows(-1),
  });
  return (
    <div className={styles.app}>
      {!bare && (
        <MayBreak part="The bar on top">
          <TopBar
            view={view}
            onOpenLead={openLead}
            onNew={mayEnter ? () => ask("new") : undefined}
            onKeys={() => ask("keys")}
          />
        </MayBreak>
      )}
      {!connected && (
        <p className={styles.cut} role="alert">
          The line to the desk is cut. What you see may be old; it comes back on its own.
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
      {!bare && (
        <MayBreak part="Learning the desk">
          <Tutorial />
        </MayBreak>
      )}
      {asked === "new" && (
        <NewLead
          onClose={() => ask(null)}
          onMade={(id) => {
            ask(null);
            openLead(id);
          }}
        />
      )}
      {asked === "keys" && <KeysDialog view={view} onClose={() => ask(null)} />}
    </div>
  );
}

/** Move the focus along what a view lists; without a list, along the places beside it. */
function alongRows(by: number): void {
  const all = (what: string) =>
    [...document.querySelectorAll<HTMLElement>(what)].filter((e) => e.offsetParent);
  const rows = all("main [data-row]");
  const places = rows.length > 0 ? rows : all("nav[aria-label] a[href]");
  const at = places.indexOf(document.activeElement as HTMLElement);
  const from = at < 0 && rows.length === 0 ? places.findIndex((p) => p.ariaCurrent === "page") : at;
  const next = places[Math.min(places.length - 1, Math.max(0, from + by))];
  next?.focus();
  next?.scrollIntoView({ block: "nearest" });
}

const WAYS_OUT = { email: "Mail is", text: "The line for texts is", chat: "Team chat is" } as const;

/** What is wrong with the whole desk is everybody's business: what waits, since when, and that nothing is lost. */
function Troubles() {
  const now = useNow();
  const { data = [] } = useTroubles();
  return data.map(({ key, channel, since, waiting, error, said, sourceId }) => (
    <p key={key} className={styles.trouble} role="alert" title={error}>
      {channel && said === null
        ? `${WAYS_OUT[channel]} down for ${duration(Math.max(60_000, now - Date.parse(since)))}. ${waiting} ${waiting === 1 ? "message waits" : "messages wait"}; each goes once, as soon as it is back.`
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
