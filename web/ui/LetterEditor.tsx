import {
  autocompletion,
  type Completion,
  type CompletionContext,
  completionKeymap,
} from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { markdown } from "@codemirror/lang-markdown";
import { type Diagnostic, lintGutter, setDiagnostics } from "@codemirror/lint";
import { EditorState } from "@codemirror/state";
import { EditorView, keymap, placeholder } from "@codemirror/view";
import { type Ref, useEffect, useId, useImperativeHandle, useRef } from "react";
import styles from "./LetterEditor.module.css";

/** A field that can be merged in. */
export interface EditorField {
  readonly path: string;
  readonly name: string;
  readonly maybeEmpty: boolean;
}

/** Something wrong, at its place; both count from 1. */
export interface EditorFault {
  readonly message: string;
  readonly line: number;
  readonly column: number;
}

/** What can be done with the editor from beside it. */
export interface Inserting {
  /** Put a text where the cursor is, in place of what is marked. */
  insert(text: string): void;
}

interface Props {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly fields: readonly EditorField[];
  readonly faults: readonly EditorFault[];
  readonly help?: string;
  /** Whether it is a letter in Markdown, or plain words. */
  readonly letter: boolean;
  readonly ref?: Ref<Inserting>;
}

/** How a field is written into a template: with a way round where it may be empty. */
export const written = ({ path, maybeEmpty }: EditorField): string =>
  maybeEmpty ? `{{ ${path} | default: '' }}` : `{{ ${path} }}`;

/** How well a field fits what is typed: its name from the beginning, its path so, anything else. */
const place = ({ name, path }: EditorField, typed: string): number =>
  name.toLowerCase().startsWith(typed) ? 0 : path.startsWith(typed) ? 1 : 2;

/** Fields by name, as soon as braces are opened. */
function completions(context: CompletionContext, fields: readonly EditorField[]) {
  const before = context.matchBefore(/\{\{[\p{L}\d_.\s]*$/u);
  if (!before) return null;
  const typed = before.text.slice(2).trim().toLowerCase();
  const closed = context.state.sliceDoc(context.pos, context.pos + 9).match(/^[\s\w.]*\}\}/)?.[0] ?? "";
  return {
    from: before.from,
    to: context.pos + closed.length,
    filter: false,
    options: fields
      .filter(({ path, name }) => name.toLowerCase().includes(typed) || path.includes(typed))
      .sort((a, b) => place(a, typed) - place(b, typed))
      .map((field): Completion => ({ label: field.name, detail: field.path, apply: written(field) })),
  };
}

/** The editor in the dress of the desk. */
const LOOK = EditorView.theme({
  "&": { color: "var(--ink)", minHeight: "inherit" },
  "&.cm-focused": { outline: "none" },
  ".cm-scroller": { font: "15px / 22px var(--text)", minHeight: "inherit" },
  ".cm-content": { padding: "8px 4px", caretColor: "var(--ink)" },
  ".cm-cursor": { borderLeftColor: "var(--ink)" },
  ".cm-gutters": { border: "0", background: "none" },
  ".cm-placeholder": { color: "var(--ink-2)" },
  ".cm-tooltip": {
    border: "1px solid var(--rule-strong)",
    borderRadius: "var(--radius)",
    background: "var(--sheet)",
    color: "var(--ink)",
    boxShadow: "var(--float)",
  },
  ".cm-tooltip.cm-tooltip-autocomplete > ul > li": { padding: "3px 8px", font: "14px / 20px var(--text)" },
  ".cm-tooltip-autocomplete ul li[aria-selected]": { background: "var(--chosen)", color: "var(--ink)" },
  ".cm-completionDetail": { color: "var(--ink-2)" },
});

/** An editor for letters and texts: Markdown where it is one, merge fields completed by name, faults marked where they are. */
export function LetterEditor({ label, value, onChange, fields, faults, help, letter, ref }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const id = useId();
  // The editor lives on while what it is given changes: it always asks for the newest.
  const newest = useRef({ onChange, fields });
  newest.current = { onChange, fields };
  useImperativeHandle(ref, () => ({
    insert: (text) => {
      const editor = view.current;
      if (!editor) return;
      editor.dispatch(editor.state.replaceSelection(text));
      editor.focus();
    },
  }));
  // biome-ignore lint/correctness/useExhaustiveDependencies: what it is given afterwards is brought to it below
  useEffect(() => {
    const host = box.current!;
    // In a root of its own: there its styles need no exception to what pages here may run and wear.
    const root = host.shadowRoot ?? host.attachShadow({ mode: "open" });
    const editor = new EditorView({
      parent: root,
      root,
      state: EditorState.create({
        doc: value,
        extensions: [
          history(),
          keymap.of([...completionKeymap, ...defaultKeymap, ...historyKeymap]),
          autocompletion({
            override: [(context) => completions(context, newest.current.fields)],
            // Whoever types fast and presses Enter means what they saw.
            interactionDelay: 0,
          }),
          lintGutter(),
          EditorView.lineWrapping,
          LOOK,
          ...(letter ? [markdown()] : []),
          placeholder(letter ? "Hello {{ lead.first_name }}," : ""),
          EditorView.contentAttributes.of({
            "aria-label": label,
            "aria-multiline": "true",
            spellcheck: "true",
            ...(help && { "aria-describedby": id }),
          }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) newest.current.onChange(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = editor;
    return () => editor.destroy();
  }, []);
  useEffect(() => {
    const editor = view.current;
    const now = editor?.state.doc.toString();
    if (!editor || now === value) return;
    editor.dispatch({ changes: { from: 0, to: now?.length ?? 0, insert: value } });
  }, [value]);
  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const { doc } = editor.state;
    const marks = faults.map(({ message, line, column }): Diagnostic => {
      const row = doc.line(Math.min(Math.max(1, line), doc.lines));
      const from = Math.min(row.from + Math.max(0, column - 1), row.to);
      return { from, to: Math.max(from, row.to), severity: "error", message };
    });
    editor.dispatch(setDiagnostics(editor.state, marks));
  }, [faults]);
  return (
    <div className={styles.editor}>
      <span className={styles.label} aria-hidden="true">
        {label}
      </span>
      <div
        ref={box}
        className={letter ? styles.letter : styles.text}
        data-wrong={faults.length > 0 || undefined}
      />
      {faults.map(({ message, line, column }) => (
        <p key={`${line}:${column}:${message}`} className={styles.wrong} role="alert">
          {message} (line {line}, column {column})
        </p>
      ))}
      {help && (
        <p id={id} className={styles.help}>
          {help}
        </p>
      )}
    </div>
  );
}
