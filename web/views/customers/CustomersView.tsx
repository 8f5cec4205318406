import { useState } from "react";
import { dateTime } from "../../../core/time/words.ts";
import { App } from "../../frame/App.tsx";
import { useInAddress } from "../../live/address.ts";
import { useCompanies, useCompany, useContact, useContacts } from "../../live/book-queries.ts";
import { deskNow } from "../../live/clock.ts";
import { useMe, useQueue } from "../../live/queries.ts";
import { useChange } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Area, Field } from "../../ui/Field.tsx";
import { Tabs } from "../../ui/Tabs.tsx";
import type { ChangeCustomer, Company, Contact } from "../../wire/customer-schemas.ts";
import { sayWhole } from "../board/lanes.ts";
import { BookThread } from "./BookThread.tsx";
import styles from "./Customers.module.css";

/** The book: companies and contacts with everything that ever happened. */
export function CustomersView() {
  return (
    <App view="Customers">
      <Book />
    </App>
  );
}

function Book() {
  const [company, openCompany] = useInAddress("company");
  const [contact, openContact] = useInAddress("contact");
  const [as, setAs] = useInAddress("show");
  const [q, setQ] = useState("");
  const kind = as === "contacts" || (contact && as === null && !company) ? "contacts" : "companies";
  const open = (what: "company" | "contact", id: string) => {
    if (what === "company") {
      openContact(null, { replace: true });
      openCompany(id);
    } else {
      openCompany(null, { replace: true });
      openContact(id);
    }
  };
  const close = () => {
    openCompany(null);
    openContact(null);
  };
  return (
    <main className={styles.page} data-open={company !== null || contact !== null}>
      <section className={styles.list} aria-label="Customers">
        <header className={styles.head}>
          <h1>Customers</h1>
          <Field
            label="Find"
            quiet
            type="search"
            placeholder="A piece of the name"
            value={q}
            onChange={(e) => setQ(e.target.value)}
          />
        </header>
        <Tabs
          label="Show"
          chosen={kind}
          onChoose={(key) => setAs(key, { replace: true })}
          tabs={[
            { key: "companies", name: "Companies" },
            { key: "contacts", name: "Contacts" },
          ]}
        />
        {kind === "companies" ? (
          <Companies q={q} chosen={company} onChoose={(id) => open("company", id)} />
        ) : (
          <Contacts q={q} chosen={contact} onChoose={(id) => open("contact", id)} />
        )}
      </section>
      {contact && !company ? (
        <ContactSheet key={contact} id={contact} onClose={close} onOpen={open} />
      ) : (
        <CompanySheet key={company} id={company} onClose={close} onOpen={open} />
      )}
    </main>
  );
}

interface ListProps {
  readonly q: string;
  readonly chosen: string | null;
  readonly onChoose: (id: string) => void;
}

const NOBODY_YET =
  "They come into the book when a lead is handed over: open a qualified lead and press “Hand over”.";

function Companies({ q, chosen, onChoose }: ListProps) {
  const { data } = useCompanies(q);
  if (!data) return <p className={styles.quiet}>Looking …</p>;
  if (data.items.length === 0)
    return <Empty title={q ? "No company is called so" : "No company yet"}>{q ? "" : NOBODY_YET}</Empty>;
  return (
    <ul className={styles.rows}>
      {data.items.map((c) => (
        <li key={c.id}>
          <button
            type="button"
            data-row
            data-chosen={c.id === chosen || undefined}
            onClick={() => onChoose(c.id)}
          >
            <b>{c.name}</b>
            <span>{[c.domain, c.postalCode].filter(Boolean).join(" · ")}</span>
            <small>
              {c.contacts === 1 ? "1 contact" : `${c.contacts} contacts`},{" "}
              {c.deals === 1 ? "1 deal" : `${c.deals} deals`}
              {c.won > 0 && `, ${sayWhole(c.won, c.currency)} won`}
            </small>
          </button>
        </li>
      ))}
      {data.next && <li className={styles.quiet}>There are more. Write a piece of the name.</li>}
    </ul>
  );
}

function Contacts({ q, chosen, onChoose }: ListProps) {
  const { data } = useContacts(q);
  if (!data) return <p className={styles.quiet}>Looking …</p>;
  if (data.items.length === 0)
    return <Empty title={q ? "Nobody is called so" : "Nobody yet"}>{q ? "" : NOBODY_YET}</Empty>;
  return (
    <ul className={styles.rows}>
      {data.items.map((c) => (
        <li key={c.id}>
          <button
            type="button"
            data-row
            data-chosen={c.id === chosen || undefined}
            onClick={() => onChoose(c.id)}
          >
            <b>{c.name}</b>
            <span>{[c.role, c.company?.name].filter(Boolean).join(" · ")}</span>
            <small>
              {c.customerSince ? "a customer" : "not bought yet"}
              {c.deals > 0 && `, ${c.deals === 1 ? "1 deal" : `${c.deals} deals`}`}
            </small>
          </button>
        </li>
      ))}
      {data.next && <li className={styles.quiet}>There are more. Write a piece of the name.</li>}
    </ul>
  );
}

interface SheetProps {
  readonly onClose: () => void;
  readonly onOpen: (what: "company" | "contact", id: string) => void;
}

function CompanySheet({ id, onClose, onOpen }: SheetProps & { readonly id: string | null }) {
  const { data: company, error } = useCompany(id);
  if (!id)
    return (
      <section className={styles.sheet}>
        <Empty title="Nobody chosen">
          Choose a company or a contact. <kbd>↑</kbd> <kbd>↓</kbd> move along the list.
        </Empty>
      </section>
    );
  return (
    <Sheet error={error} loading={!company} onClose={onClose} label="Company">
      {company && (
        <>
          <Title
            name={company.name}
            sub={[company.domain, company.phoneReadable, company.address, company.postalCode]}
            edit={<EditCompany company={company} />}
          />
          <Alike kind="companies" record={company} onOpen={(other) => onOpen("company", other)} />
          <div className={styles.parts}>
            <section aria-label="Contacts">
              <h3>Contacts</h3>
              <ul>
                {company.contactList.map((c) => (
                  <li key={c.id}>
                    <button type="button" className={styles.link} onClick={() => onOpen("contact", c.id)}>
                      {c.name}
                    </button>{" "}
                    <small>{c.role}</small>
                  </li>
                ))}
                {company.contactList.length === 0 && <li className={styles.quiet}>none</li>}
              </ul>
            </section>
            <Related record={company} />
          </div>
          <Story kind="companies" record={company} />
        </>
      )}
    </Sheet>
  );
}

function ContactSheet({ id, onClose, onOpen }: SheetProps & { readonly id: string }) {
  const { data: contact, error } = useContact(id);
  return (
    <Sheet error={error} loading={!contact} onClose={onClose} label="Contact">
      {contact && (
        <>
          <Title
            name={contact.name}
            sub={[contact.role, ...contact.phonesReadable, ...contact.emails, contact.address]}
            edit={<EditContact contact={contact} />}
          />
          {contact.company && (
            <p>
              At{" "}
              <button
                type="button"
                className={styles.link}
                onClick={() => contact.company && onOpen("company", contact.company.id)}
              >
                {contact.company.name}
              </button>
            </p>
          )}
          <Alike kind="contacts" record={contact} onOpen={(other) => onOpen("contact", other)} />
          <div className={styles.parts}>
            <section aria-label="Standing">
              <h3>{contact.customerSince ? "A customer" : "Not a customer yet"}</h3>
              <p className={styles.quiet}>
                <a href={`/api/v1/contacts/${contact.id}/card`} download>
                  As a card (vCard)
                </a>
              </p>
            </section>
            <Related record={contact} />
          </div>
          <Story kind="contacts" record={contact} />
        </>
      )}
    </Sheet>
  );
}

function Sheet({
  error,
  loading,
  onClose,
  label,
  children,
}: {
  readonly error: Error | null;
  readonly loading: boolean;
  readonly onClose: () => void;
  readonly label: string;
  readonly children: React.ReactNode;
}) {
  return (
    <section className={styles.sheet} aria-label={label}>
      <Button look="bare" className={styles.back ?? ""} onClick={onClose}>
        ‹ Customers
      </Button>
      {error && loading && (
        <Empty title="This can't be shown">
          <p>{error.message}</p>
        </Empty>
      )}
      {loading && !error && <p className={styles.quiet}>Looking it up …</p>}
      {children}
    </section>
  );
}

function Title({
  name,
  sub,
  edit,
}: {
  readonly name: string;
  readonly sub: readonly (string | null)[];
  readonly edit: React.ReactNode;
}) {
  return (
    <header className={styles.title}>
      <div>
        <h2>{name}</h2>
        <p className={styles.quiet}>{sub.filter(Boolean).join(" · ")}</p>
      </div>
      {edit}
    </header>
  );
}

/** Deals, leads, people of ours, and what comes next. */
function Related({ record }: { readonly record: Company | Contact }) {
  const { data: queue } = useQueue();
  const zone = queue?.zone ?? "UTC";
  const change = useChange();
  const [name, setName] = useState<string | null>(null);
  const isContact = "emails" in record;
  return (
    <>
      <section aria-label="Deals">
        <h3>Deals</h3>
        <ul>
          {record.dealList.map((d) => (
            <li key={d.id}>
              <a href={`/board?deal=${d.id}`}>{d.name}</a> {sayWhole(d.value, d.currency)},{" "}
              {d.closed ? `${d.stage}: ${d.closed}` : d.stage}
            </li>
          ))}
        </ul>
        {name === null ? (
          <Button look="bare" onClick={() => setName("")}>
            Begin a deal
          </Button>
        ) : (
          <form
            className={styles.inline}
            onSubmit={(event) => {
              event.preventDefault();
              if (!name.trim()) return;
              change.mutate({
                call: "POST /deals",
                body: { name, ...(isContact ? { contactId: record.id } : { companyId: record.id }) },
                said: "The deal is on the board.",
                after: (deal) => location.assign(`/board?deal=${deal.id}`),
              });
            }}
          >
            <Field
              label="What may be sold"
              quiet
              autoFocus
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
            <Button type="submit" disabled={!name.trim()}>
              Begin
            </Button>
          </form>
        )}
      </section>
      <section aria-label="Leads">
        <h3>Leads</h3>
        <ul>
          {record.leads.map((l) => (
            <li key={l.id}>
              <a href={`/?lead=${l.id}`}>{l.name}</a> <small>{l.stage}</small>
            </li>
          ))}
        </ul>
        {record.people.length > 0 && <p className={styles.quiet}>With {record.people.join(", ")}</p>}
      </section>
      {record.steps.length > 0 && (
        <section aria-label="What comes next">
          <h3>What comes next</h3>
          <ul>
            {record.steps.map((s) => (
              <li key={`${s.what}${s.at}`}>
                <a href={s.href}>{s.what}</a> <small>{dateTime(Date.parse(s.at), zone, deskNow())}</small>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

/** Others in the book that may be the same, and those that were joined. */
function Alike({
  kind,
  record,
  onOpen,
}: {
  readonly kind: "companies" | "contacts";
  readonly record: Company | Contact;
  readonly onOpen: (id: string) => void;
}) {
  const change = useChange();
  const { data: me } = useMe();
  const may = me?.rights.includes("leads.all");
  if (record.likely.length === 0 && record.joined.length === 0) return null;
  return (
    <div className={styles.alike}>
      {record.likely.map((other) => (
        <p key={other.id}>
          May be the same as{" "}
          <button type="button" className={styles.link} onClick={() => onOpen(other.id)}>
            {other.name}
          </button>
          : {other.reasons.join(", ")}.{" "}
          {may && (
            <Button
              look="bare"
              onClick={() =>
                change.mutate({
                  call: `POST /${kind}/[id]/join`,
                  params: { id: record.id },
                  body: { with: other.id },
                  said: `${other.name} is joined to ${record.name}.`,
                })
              }
            >
              Join them
            </Button>
          )}
        </p>
      ))}
      {record.joined.map((other) => (
        <p key={other.id}>
          {other.name} was joined to it.{" "}
          {may && (
            <Button
              look="bare"
              onClick={() =>
                change.mutate({
                  call: `POST /${kind}/[id]/part`,
                  params: { id: record.id },
                  body: { from: other.id },
                  said: "They are two again.",
                })
              }
            >
              Take apart
            </Button>
          )}
        </p>
      ))}
    </div>
  );
}

function Story({
  kind,
  record,
}: {
  readonly kind: "companies" | "contacts";
  readonly record: Company | Contact;
}) {
  const { data: queue } = useQueue();
  const change = useChange();
  const [note, setNote] = useState("");
  return (
    <>
      <form
        className={styles.note}
        onSubmit={(event) => {
          event.preventDefault();
          if (!note.trim()) return;
          change.mutate({
            call: `POST /${kind}/[id]`,
            params: { id: record.id },
            body: { note },
            said: "The note is kept.",
            after: () => setNote(""),
          });
        }}
      >
        <Area
          label="Note"
          quiet
          rows={2}
          placeholder="A note for colleagues"
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
        <Button type="submit" disabled={!note.trim()}>
          Keep the note
        </Button>
      </form>
      <h3>Everything that happened</h3>
      <BookThread items={record.thread} zone={queue?.zone ?? "UTC"} />
    </>
  );
}

const byLine = (text: string) =>
  text
    .split("\n")
    .map((l) => l.trim())
    .filter(Boolean);

function EditCompany({ company }: { readonly company: Company }) {
  const { name, domain, phone, address, postalCode } = company;
  return (
    <Edit
      kind="companies"
      id={company.id}
      title={`Change ${name}`}
      fields={[
        { key: "name", label: "Name", value: name },
        { key: "domain", label: "Web and mail domain", value: domain ?? "" },
        { key: "phone", label: "Phone", value: phone ?? "" },
        { key: "address", label: "Address", value: address ?? "" },
        { key: "postalCode", label: "Postal code", value: postalCode ?? "" },
      ]}
      bodyOf={(typed) => typed}
    />
  );
}

function EditContact({ contact }: { readonly contact: Contact }) {
  return (
    <Edit
      kind="contacts"
      id={contact.id}
      title={`Change ${contact.name}`}
      fields={[
        { key: "name", label: "Name", value: contact.name },
        { key: "role", label: "Role", value: contact.role ?? "" },
        { key: "phones", label: "Phones, one a line", value: contact.phones.join("\n"), lines: true },
        { key: "emails", label: "Mail addresses, one a line", value: contact.emails.join("\n"), lines: true },
        { key: "address", label: "Address", value: contact.address ?? "" },
      ]}
      bodyOf={({ phones = "", emails = "", ...rest }) => ({
        ...rest,
        phones: byLine(phones),
        emails: byLine(emails),
      })}
    />
  );
}

interface EditProps {
  readonly kind: "companies" | "contacts";
  readonly id: string;
  readonly title: string;
  readonly fields: readonly {
    readonly key: string;
    readonly label: string;
    readonly value: string;
    readonly lines?: true;
  }[];
  readonly bodyOf: (typed: Record<string, string>) => ChangeCustomer;
}

function Edit({ kind, id, title, fields, bodyOf }: EditProps) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [said, setSaid] = useState("");
  const change = useChange();
  const begin = () => {
    setTyped(Object.fromEntries(fields.map((f) => [f.key, f.value])));
    setSaid("");
    setOpen(true);
  };
  const keep = async () => {
    try {
      await change.mutateAsync({
        call: `POST /${kind}/[id]`,
        params: { id },
        body: bodyOf(typed),
        said: "Kept.",
      });
      setOpen(false);
    } catch (error) {
      setSaid(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <>
      <Button onClick={begin}>Change</Button>
      {open && (
        <Dialog title={title} onClose={() => setOpen(false)}>
          <form
            className={styles.form}
            onSubmit={(event) => {
              event.preventDefault();
              void keep();
            }}
          >
            {said && <p role="alert">{said}</p>}
            {fields.map(({ key, label, lines }) =>
              lines ? (
                <Area
                  key={key}
                  label={label}
                  rows={3}
                  value={typed[key] ?? ""}
                  onChange={(e) => setTyped({ ...typed, [key]: e.target.value })}
                />
              ) : (
                <Field
                  key={key}
                  label={label}
                  value={typed[key] ?? ""}
                  onChange={(e) => setTyped({ ...typed, [key]: e.target.value })}
                />
              ),
            )}
            <Button type="submit" look="strong">
              Keep
            </Button>
          </form>
        </Dialog>
      )}
    </>
  );
}
