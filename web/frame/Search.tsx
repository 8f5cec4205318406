import {
  autoUpdate,
  FloatingPortal,
  offset,
  size,
  useDismiss,
  useFloating,
  useInteractions,
  useListNavigation,
  useRole,
} from "@floating-ui/react";
import { Building2, Handshake, UserRound } from "lucide-react";
import { type HTMLAttributes, type ReactNode, useEffect, useMemo, useRef, useState } from "react";
import { readablePhone } from "../../core/contact/readable-phone.ts";
import { dateTime } from "../../core/time/words.ts";
import { deskNow } from "../live/clock.ts";
import { useKeys } from "../live/keys.ts";
import { useFound, useMe, useQueue } from "../live/queries.ts";
import { touched } from "../live/touch.ts";
import { Diamond } from "../ui/Diamond.tsx";
import type { SearchPage } from "../wire/list-schemas.ts";
import { type Goal, goalsFor } from "./goto.ts";
import { placesFor } from "./places.ts";
import styles from "./Search.module.css";

interface Props {
  readonly onOpen: (id: string) => void;
  readonly onNew: (() => void) | undefined;
  readonly onKeys: () => void;
}

type Hit = SearchPage["items"][number];

/** Where a company, a contact and a deal lie open. */
const AT = { company: "/customers?company=", contact: "/customers?contact=", deal: "/board?deal=" } as const;

/** What a lead was found by, where that is not how it is called. */
const WHERE: Readonly<Record<Hit["where"], string>> = {
  name: "",
  company: "company",
  number: "number",
  address: "address",
  field: "field",
  note: "written here",
  said: "they wrote",
};

/** One box for everything: a lead by any piece of it, a place, something to do. `/` and `Ctrl K` go here. */
export function Search({ onOpen, onNew, onKeys }: Props) {
  const [text, setText] = useState("");
  const [active, setActive] = useState<number | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const items = useRef<(HTMLElement | null)[]>([]);
  const { data: me } = useMe();
  const { data: queue } = useQueue();
  const { data: found, isFetched } = useFound(text);
  const open = text.trim().length > 1;
  const goals = useMemo(
    (): readonly Goal[] => [
      ...(onNew ? [{ name: "New inquiry", also: "lead write down enter", go: onNew }] : []),
      { name: "Keys", also: "shortcuts help", go: onKeys },
      ...placesFor(me).map(({ name, href }) => ({ name, also: "go to", go: () => location.assign(href) })),
    ],
    [me, onNew, onKeys],
  );
  const { refs, floatingStyles, context } = useFloating({
    open,
    onOpenChange: (o) => !o && setText(""),
    placement: "bottom-start",
    whileElementsMounted: autoUpdate,
    middleware: [
      offset(4),
      size({
        padding: 8,
        apply: ({ rects, elements, availableWidth, availableHeight }) => {
          const { style } = elements.floating;
          style.width = `${Math.min(availableWidth, Math.max(440, rects.reference.width))}px`;
          style.maxHeight = `${availableHeight}px`;
        },
      }),
    ],
  });
  const list = useListNavigation(context, {
    listRef: items,
    activeIndex: active,
    onNavigate: setActive,
    virtual: true,
    loop: true,
  });
  const { getReferenceProps, getFloatingProps, getItemProps } = useInteractions([
    useRole(context, { role: "listbox" }),
    useDismiss(context),
    list,
  ]);
  useKeys({ "/": () => input.current?.focus() });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() !== "k" || !(event.ctrlKey || event.metaKey) || event.altKey) return;
      event.preventDefault();
      input.current?.focus();
      input.current?.select();
    };
    document.addEventListener("keydown", press);
    return () => document.removeEventListener("keydown", press);
  }, []);

  const leave = () => {
    setText("");
    input.current?.blur();
  };
  const hits = found?.items ?? [];
  const places = open ? goalsFor(text, goals) : [];
  // What is called just so stands first; among many leads a place would be far down.
  const choices: readonly { readonly key: string; readonly go: () => void; readonly shown: ReactNode }[] = [
    ...hits.map((hit) => ({
      key: hit.id,
      go: () => onOpen(hit.id),
      shown: <Found hit={hit} zone={queue?.zone} />,
    })),
    ...(found?.records ?? []).map(({ kind, id, name, said }) => ({
      key: id,
      go: () => location.assign(`${AT[kind]}${id}`),
      shown: <FoundRecord kind={kind} name={name} said={said} />,
    })),
    ...places.map((goal) => ({ key: goal.name, go: goal.go, shown: <span>→ {goal.name}</span> })),
  ];
  const item = (go: () => void): HTMLAttributes<HTMLElement> =>
    getItemProps({
      onClick: () => {
        leave();
        go();
      },
    });
  return (
    <div className={styles.search} ref={refs.setReference}>
      <input
        {...getReferenceProps({
          onKeyDown: (event) => {
            if (event.key === "Enter" && choices.length > 0) {
              const choice = choices[active ?? 0] ?? choices[0]!;
              leave();
              choice.go();
            }
            if (event.key === "Escape") input.current?.blur();
          },
        })}
        ref={input}
        className={styles.input}
        type="search"
        aria-label="Find a lead"
        aria-autocomplete="list"
        placeholder={touched() ? "Find a lead" : "Find a lead  /"}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setActive(0);
        }}
      />
      {open && (
        <FloatingPortal>
          <div
            ref={refs.setFloating}
            style={floatingStyles}
            className={styles.list}
            {...getFloatingProps({ "aria-label": "Found leads" })}
          >
            {choices.map(({ key, go, shown }, i) => (
              <div
                key={key}
                ref={(node) => {
                  items.current[i] = node;
                }}
                role="option"
                aria-selected={i === active}
                tabIndex={-1}
                className={i === active ? styles.active : styles.item}
                {...item(go)}
              >
                {shown}
              </div>
            ))}
            {isFetched && choices.length === 0 && (
              <div role="option" aria-selected={false} aria-disabled tabIndex={-1} className={styles.none}>
                Nothing has “{text.trim()}” in its name, company, number, address or in what was written.
                Fewer letters find more; <b>from:</b> a source and <b>with:</b> a person narrow it down.
              </div>
            )}
          </div>
        </FloatingPortal>
      )}
    </div>
  );
}

/** A lead that was found, with what it was found by in its place. */
function Found({ hit, zone }: { readonly hit: Hit; readonly zone: string | undefined }) {
  const { lead, title, where, at, snippet, marks } = hit;
  const isTitle = where === "name" && snippet === title;
  const said = [WHERE[where], at && zone && dateTime(Date.parse(at), zone, deskNow())].filter(Boolean);
  return (
    <>
      <Diamond name={lead.name} filled={lead.ownerId !== null} />
      <span>
        <b>{isTitle ? <Marked text={snippet} marks={marks} /> : title}</b>
        <small>
          {isTitle ? (
            [lead.company, lead.phones[0] && readablePhone(lead.phones[0]), lead.emails[0]]
              .filter(Boolean)
              .join(" · ")
          ) : (
            <>
              <Marked text={snippet} marks={marks} />
              {said.length > 0 && ` (${said.join(", ")})`}
            </>
          )}
        </small>
      </span>
      <i>{lead.closed ? `closed: ${lead.closed.reason}` : lead.stage}</i>
    </>
  );
}

const ICONS = { company: Building2, contact: UserRound, deal: Handshake } as const;

/** A company, a contact or a deal that was found by its name. */
function FoundRecord({ kind, name, said }: Pick<SearchPage["records"][number], "kind" | "name" | "said">) {
  const Icon = ICONS[kind];
  return (
    <>
      <Icon size={20} className={styles.record} aria-hidden="true" />
      <span>
        <b>{name}</b>
        <small>{kind === "deal" ? `deal: ${said}` : said}</small>
      </span>
    </>
  );
}

/** A text with what was looked for marked in it. */
function Marked({ text, marks }: Pick<Hit, "marks"> & { readonly text: string }) {
  const parts: ReactNode[] = [];
  let at = 0;
  for (const [from, to] of marks) {
    if (from < at) continue;
    parts.push(text.slice(at, from), <mark key={from}>{text.slice(from, to)}</mark>);
    at = to;
  }
  return [...parts, text.slice(at)];
}
