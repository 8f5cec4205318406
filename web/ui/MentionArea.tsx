import { type KeyboardEvent, useId, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { Area } from "./Field.tsx";
import styles from "./MentionArea.module.css";

interface Props {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  /** Who can be named: people and groups. */
  readonly names: readonly string[];
  readonly rows?: number;
}

const MOST = 6;

/** What is typed of a name before the caret, after `@`; null when no name is being typed. */
export function nameAt(
  text: string,
  caret: number,
): { readonly from: number; readonly typed: string } | null {
  const before = text.slice(0, caret);
  const at = before.lastIndexOf("@");
  if (at < 0 || (at > 0 && !/\s/.test(before[at - 1]!))) return null;
  const typed = before.slice(at + 1);
  return typed.length <= 40 && !typed.includes("\n") ? { from: at, typed } : null;
}

/** Several lines in which people are named: after `@` they are offered. Arrows choose, Enter or Tab takes. */
export function MentionArea({ label, value, onChange, names, rows = 4 }: Props) {
  const id = useId();
  const area = useRef<HTMLTextAreaElement>(null);
  const [caret, setCaret] = useState<number | null>(null);
  const [at, setAt] = useState(0);
  const typing = caret === null ? null : nameAt(value, caret);
  const found = typing
    ? names.filter((n) => n.toLowerCase().startsWith(typing.typed.toLowerCase())).slice(0, MOST)
    : [];
  // A name that stands there whole is offered no more.
  const offered = found.length === 1 && found[0]?.toLowerCase() === typing?.typed.toLowerCase() ? [] : found;
  const take = (name: string) => {
    if (!typing || caret === null) return;
    const next = `${value.slice(0, typing.from)}@${name} ${value.slice(caret)}`;
    const place = typing.from + name.length + 2;
    // At once: whoever types on right away types after the name.
    flushSync(() => {
      onChange(next);
      setCaret(null);
    });
    area.current?.focus();
    area.current?.setSelectionRange(place, place);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (offered.length === 0) return;
    const chosen = offered[Math.min(at, offered.length - 1)];
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by) setAt((before) => (before + by + offered.length) % offered.length);
    else if ((event.key === "Enter" && !event.ctrlKey && !event.metaKey) || event.key === "Tab") {
      if (chosen) take(chosen);
    } else if (event.key === "Escape") setCaret(null);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div className={styles.frame}>
      <Area
        ref={area}
        label={label}
        rows={rows}
        value={value}
        aria-controls={offered.length > 0 ? id : undefined}
        aria-activedescendant={offered.length > 0 ? `${id}-${Math.min(at, offered.length - 1)}` : undefined}
        onChange={(e) => {
          onChange(e.target.value);
          setCaret(e.target.selectionStart);
          setAt(0);
        }}
        onKeyDown={onKeyDown}
        onBlur={() => setCaret(null)}
      />
      {offered.length > 0 && (
        <div id={id} role="listbox" aria-label="Who can be named" className={styles.names}>
          {offered.map((name, i) => (
            <div
              key={name}
              id={`${id}-${i}`}
              role="option"
              tabIndex={-1}
              aria-selected={i === Math.min(at, offered.length - 1)}
              onMouseDown={(event) => {
                event.preventDefault();
                take(name);
              }}
            >
              {name}
            </div>
          ))}
        </div>
      )}
    </div>
  );
}
