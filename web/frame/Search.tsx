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
import { useRef, useState } from "react";
import { readablePhone } from "../../core/contact/readable-phone.ts";
import { called } from "../../core/lead/called.ts";
import { useKeys } from "../live/keys.ts";
import { useFound } from "../live/queries.ts";
import { touched } from "../live/touch.ts";
import { Diamond } from "../ui/Diamond.tsx";
import styles from "./Search.module.css";

/** Find a lead by any piece of its name, number or address. `/` goes here. */
export function Search({ onOpen }: { readonly onOpen: (id: string) => void }) {
  const [text, setText] = useState("");
  const [active, setActive] = useState<number | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const items = useRef<(HTMLElement | null)[]>([]);
  const { data: found, isFetched } = useFound(text);
  const open = text.trim().length > 1;
  const { refs, floatingStyles, context } = useFloating({
    open,
    onOpenChange: (o) => !o && setText(""),
    placement: "bottom-start",
    whileElementsMounted: autoUpdate,
    middleware: [
      offset(4),
      size({
        apply: ({ rects, elements }) => {
          elements.floating.style.minWidth = `${Math.max(320, rects.reference.width)}px`;
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

  const choose = (id: string | undefined) => {
    if (!id) return;
    onOpen(id);
    setText("");
    input.current?.blur();
  };
  return (
    <div className={styles.search} ref={refs.setReference}>
      <input
        {...getReferenceProps({
          onKeyDown: (event) => {
            if (event.key === "Enter") choose(found?.[active ?? 0]?.id);
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
            {found?.map((lead, i) => (
              <div
                key={lead.id}
                ref={(node) => {
                  items.current[i] = node;
                }}
                role="option"
                aria-selected={i === active}
                tabIndex={-1}
                className={i === active ? styles.active : styles.item}
                {...getItemProps({ onClick: () => choose(lead.id) })}
              >
                <Diamond name={lead.name} filled={lead.ownerId !== null} />
                <span>
                  <b>{called(lead)}</b>
                  <small>
                    {[
                      lead.phones[0] && readablePhone(lead.phones[0]),
                      lead.emails[0],
                      lead.closed ? `closed: ${lead.closed.reason}` : lead.stage,
                    ]
                      .filter(Boolean)
                      .join(" · ")}
                  </small>
                </span>
              </div>
            ))}
            {isFetched && found?.length === 0 && (
              <div role="option" aria-selected={false} aria-disabled tabIndex={-1} className={styles.none}>
                No lead has “{text.trim()}” in its name, company, number or address.
              </div>
            )}
          </div>
        </FloatingPortal>
      )}
    </div>
  );
}
