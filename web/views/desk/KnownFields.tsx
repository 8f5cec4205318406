import { type ReactNode, useState } from "react";
import { readablePhone } from "../../../core/contact/readable-phone.ts";
import { PHONE_KINDS } from "../../../core/policy/mapping.ts";
import { useFound } from "../../live/queries.ts";
import { useFieldsSetup } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Area, Field } from "../../ui/Field.tsx";
import styles from "./dialogs.module.css";
import type { KnownFacts, WayToThem } from "./known.ts";

interface Props {
  readonly known: KnownFacts;
  readonly onChange: (known: KnownFacts) => void;
  /** By path, as the server names them: `phones.0`, `own.budget`. */
  readonly errors: Readonly<Record<string, string>>;
  /** What of it the desk can't read as a number or an address. */
  readonly unread?: readonly string[];
  /** What stands between the ways to reach them and the rest. */
  readonly children?: ReactNode;
}

const KINDS = [{ value: "", label: "kind" }, ...PHONE_KINDS.map((k) => ({ value: k, label: k }))];
const WAYS_TO_THEM: readonly { readonly way: WayToThem; readonly name: string }[] = [
  { way: "call", name: "call" },
  { way: "text", name: "text" },
  { way: "email", name: "email" },
];

/** Everything that can be written down about somebody: who they are first, the rest folded below. */
export function KnownFields({ known, onChange, errors, unread = [], children }: Props) {
  const { data: setup } = useFieldsSetup();
  const set = (part: Partial<KnownFacts>) => onChange({ ...known, ...part });
  return (
    <>
      <Field
        label="Name"
        autoComplete="off"
        value={known.name}
        onChange={(e) => set({ name: e.target.value })}
      />
      <Phones known={known} onChange={onChange} errors={errors} unread={unread} />
      <Emails known={known} onChange={onChange} errors={errors} unread={unread} />
      <Unread known={known} onChange={onChange} />
      {children}
      <div className={styles.two}>
        <Field
          label="Company"
          autoComplete="off"
          value={known.company}
          onChange={(e) => set({ company: e.target.value })}
        />
        <Choice
          label="What they want"
          value={known.product}
          options={[
            { value: "", label: "not known" },
            ...(setup?.products ?? []).map((p) => ({ value: p.key, label: p.name })),
          ]}
          onChange={(product) => set({ product })}
        />
      </div>
      <Area
        label="In their words"
        rows={2}
        value={known.message}
        onChange={(e) => set({ message: e.target.value })}
      />
      <div className={styles.two}>
        <Field
          label="Postal code"
          autoComplete="off"
          value={known.postalCode}
          onChange={(e) => set({ postalCode: e.target.value })}
        />
        <Field
          label="Address"
          autoComplete="off"
          value={known.address}
          onChange={(e) => set({ address: e.target.value })}
        />
      </div>
      <details className={styles.fold}>
        <summary>How they like to be reached</summary>
        <div className={styles.two}>
          <Choice
            label="Preferred way"
            value={known.preferred}
            options={[
              { value: "", label: "any" },
              ...WAYS_TO_THEM.map(({ way, name }) => ({ value: way, label: name })),
            ]}
            onChange={(preferred) => set({ preferred })}
          />
          <fieldset className={styles.checks}>
            <legend>Never by</legend>
            {WAYS_TO_THEM.map(({ way, name }) => (
              <label key={way}>
                <input
                  type="checkbox"
                  checked={known.forbidden.includes(way)}
                  onChange={(e) =>
                    set({
                      forbidden: e.target.checked
                        ? [...known.forbidden, way]
                        : known.forbidden.filter((w) => w !== way),
                    })
                  }
                />{" "}
                {name}
              </label>
            ))}
          </fieldset>
        </div>
      </details>
      <details className={styles.fold}>
        <summary>Your own fields and tags</summary>
        <div className={styles.two}>
          {(setup?.fields ?? []).map((field) =>
            field.type === "choice" || field.type === "yes-no" ? (
              <Choice
                key={field.key}
                label={field.name}
                value={known.own[field.key] ?? ""}
                options={[
                  { value: "", label: "not known" },
                  ...(field.type === "yes-no" ? ["yes", "no"] : field.choices).map((c) => ({
                    value: c,
                    label: c,
                  })),
                ]}
                onChange={(v) => set({ own: { ...known.own, [field.key]: v } })}
              />
            ) : (
              <Field
                key={field.key}
                label={field.name}
                value={known.own[field.key] ?? ""}
                error={errors[`own.${field.key}`]}
                placeholder={
                  HINTS[field.type] ?? (field.choices.length > 0 ? field.choices.slice(0, 2).join(", ") : "")
                }
                onChange={(e) => set({ own: { ...known.own, [field.key]: e.target.value } })}
              />
            ),
          )}
        </div>
        <Tags known={known} onChange={onChange} />
      </details>
      <details className={styles.fold}>
        <summary>People who belong to them</summary>
        <RelatedPeople known={known} onChange={onChange} />
      </details>
    </>
  );
}

const HINTS: Readonly<Record<string, string>> = {
  date: "2026-05-01",
  birthday: "05-01",
  money: "12,000",
  link: "https://…",
};

type Part = Omit<Props, "children" | "unread">;
type Ways = Part & Required<Pick<Props, "unread">>;

/** What to say below a number or an address that can't be read, once nobody is typing in it any more. */
function useUnread(unread: readonly string[]) {
  const [typing, setTyping] = useState<number | null>(null);
  return {
    said: (i: number, value: string) =>
      i !== typing && unread.includes(value.trim())
        ? `“${value.trim()}” can’t be read. It is kept as it is written.`
        : undefined,
    typing: (i: number) => ({ onFocus: () => setTyping(i), onBlur: () => setTyping(null) }),
  };
}

/** What came in and could not be read: mended above, then taken away here. */
function Unread({ known, onChange }: Pick<Props, "known" | "onChange">) {
  if (known.unread.length === 0) return null;
  return (
    <ul className={styles.unread} aria-label="Could not be read">
      {known.unread.map((said) => (
        <li key={said}>
          Could not be read: {said}{" "}
          <Button
            look="bare"
            aria-label={`Forget ${said}`}
            onClick={() => onChange({ ...known, unread: known.unread.filter((u) => u !== said) })}
          >
            Forget it
          </Button>
        </li>
      ))}
    </ul>
  );
}

function Phones({ known, onChange, errors, unread }: Ways) {
  const { said, typing } = useUnread(unread);
  const set = (at: number, part: Partial<KnownFacts["phones"][number]>) =>
    onChange({ ...known, phones: known.phones.map((p, i) => (i === at ? { ...p, ...part } : p)) });
  return (
    <>
      {known.phones.map((phone, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a line of a form is its place
        <div key={i} className={styles.line}>
          <Field
            label={i === 0 ? "Phone" : `Phone ${i + 1}`}
            type="tel"
            autoComplete="off"
            value={phone.number}
            error={errors[`phones.${i}`] ?? (i === 0 ? errors.phone : undefined) ?? said(i, phone.number)}
            {...typing(i)}
            onChange={(e) => set(i, { number: e.target.value })}
          />
          <Choice
            label={`Kind of phone ${i + 1}`}
            quiet
            value={phone.kind}
            options={KINDS}
            onChange={(kind) => set(i, { kind })}
          />
          {i === known.phones.length - 1 && (
            <Button
              look="bare"
              onClick={() => onChange({ ...known, phones: [...known.phones, { number: "", kind: "" }] })}
            >
              Add a phone
            </Button>
          )}
        </div>
      ))}
    </>
  );
}

function Emails({ known, onChange, errors, unread }: Ways) {
  const { said, typing } = useUnread(unread);
  return (
    <>
      {known.emails.map((email, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a line of a form is its place
        <div key={i} className={styles.line}>
          <Field
            label={i === 0 ? "Email" : `Email ${i + 1}`}
            type="email"
            autoComplete="off"
            value={email}
            error={errors[`emails.${i}`] ?? said(i, email)}
            {...typing(i)}
            onChange={(e) =>
              onChange({ ...known, emails: known.emails.map((x, j) => (i === j ? e.target.value : x)) })
            }
          />
          {i === known.emails.length - 1 && (
            <Button look="bare" onClick={() => onChange({ ...known, emails: [...known.emails, ""] })}>
              Add an email
            </Button>
          )}
        </div>
      ))}
    </>
  );
}

function Tags({ known, onChange }: Omit<Part, "errors">) {
  const { data: setup } = useFieldsSetup();
  const free = (setup?.tags ?? []).filter((t) => !known.tags.includes(t.name));
  return (
    <div className={styles.line}>
      {known.tags.map((tag) => (
        <span key={tag} title={setup?.tags.find((t) => t.name === tag)?.meaning}>
          # {tag}
          <Button
            look="bare"
            aria-label={`Remove the tag ${tag}`}
            onClick={() => onChange({ ...known, tags: known.tags.filter((t) => t !== tag) })}
          >
            ×
          </Button>
        </span>
      ))}
      <Choice
        label="Add a tag"
        value=""
        options={[
          { value: "", label: "choose …" },
          ...free.map((t) => ({ value: t.name, label: `${t.name}: ${t.meaning}` })),
        ]}
        onChange={(tag) => tag && onChange({ ...known, tags: [...known.tags, tag] })}
      />
    </div>
  );
}

function RelatedPeople({ known, onChange }: Omit<Part, "errors">) {
  const set = (at: number, part: Partial<KnownFacts["related"][number]>) =>
    onChange({ ...known, related: known.related.map((r, i) => (i === at ? { ...r, ...part } : r)) });
  return (
    <>
      {known.related.map((person, i) => (
        <RelatedPerson
          // biome-ignore lint/suspicious/noArrayIndexKey: a line of a form is its place
          key={i}
          person={person}
          onSet={(part) => set(i, part)}
          onRemove={() => onChange({ ...known, related: known.related.filter((_, j) => j !== i) })}
        />
      ))}
      <Button
        onClick={() =>
          onChange({ ...known, related: [...known.related, { name: "", relation: "", leadId: null }] })
        }
      >
        Add somebody
      </Button>
    </>
  );
}

function RelatedPerson({
  person,
  onSet,
  onRemove,
}: {
  readonly person: KnownFacts["related"][number];
  readonly onSet: (part: Partial<KnownFacts["related"][number]>) => void;
  readonly onRemove: () => void;
}) {
  const { data: found } = useFound(person.leadId ? "" : person.name);
  const hit = person.name.length > 3 ? found?.items[0]?.lead : undefined;
  return (
    <div className={styles.line}>
      <Field
        label="Name"
        value={person.name}
        onChange={(e) => onSet({ name: e.target.value, leadId: null })}
      />
      <Field
        label="Who they are"
        placeholder="spouse, architect …"
        value={person.relation}
        onChange={(e) => onSet({ relation: e.target.value })}
      />
      {person.leadId ? (
        <span>a lead</span>
      ) : (
        hit && (
          <Button look="bare" onClick={() => onSet({ name: hit.name ?? person.name, leadId: hit.id })}>
            is {hit.name}
            {hit.phones[0] && `, ${readablePhone(hit.phones[0])}`}
          </Button>
        )
      )}
      <Button look="bare" onClick={onRemove}>
        Remove
      </Button>
    </div>
  );
}
