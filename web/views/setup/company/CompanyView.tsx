import { upload } from "../../../live/api.ts";
import { useChoices, useCompany } from "../../../live/company-queries.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Area, Field } from "../../../ui/Field.tsx";
import { useSay } from "../../../ui/Toasts.tsx";
import type { CompanySetup, SaveCompany } from "../../../wire/company-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";

/** Who the company is: what mails, forms and numbers go by. */
export function CompanyView() {
  return (
    <SetupFrame place="Company">
      <Company />
    </SetupFrame>
  );
}

const draftOf = ({ company, sites, teamChat }: CompanySetup): SaveCompany => ({ company, sites, teamChat });
const asOptions = (list: readonly { readonly key: string; readonly name: string }[]) =>
  list.map(({ key, name }) => ({ value: key, label: name }));

function Company() {
  const { data, error } = useCompany();
  const { data: choices } = useChoices();
  const save = useChange();
  const [draft, setDraft] = useSetupDraft<SaveCompany>("company", data ? draftOf(data) : null);
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!draft || !data || !choices) return <p className={styles.quiet}>Looking …</p>;
  const { company } = draft;
  const put = (change: Partial<SaveCompany["company"]>) =>
    setDraft({ ...draft, company: { ...company, ...change } });
  const changed = JSON.stringify(draft) !== JSON.stringify(draftOf(data));
  return (
    <>
      <h1>Company</h1>
      <p className={styles.intro}>
        Who your leads hear from. Mails, texts, forms and booking pages all go by what stands here.
      </p>
      <div className={styles.fields}>
        <Field label="Name" value={company.name} onChange={(e) => put({ name: e.target.value })} />
        <Field
          label="Mails come from"
          type="email"
          value={company.email}
          onChange={(e) => put({ email: e.target.value })}
        />
        <Field
          label="Texts come from"
          type="tel"
          placeholder="none"
          value={company.textLine}
          onChange={(e) => put({ textLine: e.target.value })}
        />
        <Field
          label="Team chat"
          placeholder="none"
          value={draft.teamChat}
          onChange={(e) => setDraft({ ...draft, teamChat: e.target.value })}
        />
      </div>
      <Logo logo={company.logo ?? null} onChange={(logo) => put({ logo })} />
      <p className={styles.quiet}>
        A source may answer from a line of its own. The team chat is the channel that hears of bells, as
        #leads.
      </p>
      <h2>Where you are</h2>
      <div className={styles.fields}>
        <Choice
          label="Country"
          value={company.country}
          options={asOptions(choices.countries)}
          onChange={(country) => put({ country })}
        />
        <Choice
          label="Currency"
          value={company.currency}
          options={asOptions(choices.currencies)}
          onChange={(currency) => put({ currency })}
        />
      </div>
      <p className={styles.quiet}>
        Numbers written without a country are dialled from yours. The desk keeps its hours by the clock of{" "}
        {data.zone.replace(/_/g, " ")}; <a href="/setup/hours">Desk hours</a> changes it.
      </p>
      <Languages
        chosen={company.languages}
        known={choices.languages}
        onChange={(languages) => put({ languages })}
      />
      <h2>Your own sites</h2>
      <p className={styles.intro}>
        A link of ours to one of these says who comes. Their snippet asks whether the visit may be remembered;
        only then is it a signal.
      </p>
      <div className={styles.stack}>
        <Area
          label="One a line, as www.example.com"
          rows={2}
          value={draft.sites.join("\n")}
          onChange={(e) => setDraft({ ...draft, sites: e.target.value.split("\n") })}
        />
      </div>
      {changed && (
        <SaveBar
          saving={save.isPending}
          onSave={() =>
            save.mutate({
              call: "POST /setup/company",
              body: draft,
              said: "In force from now on.",
              after: (now) => setDraft(draftOf(now)),
            })
          }
          draft={draft}
          onDraft={setDraft}
        />
      )}
    </>
  );
}

type LogoFile = NonNullable<SaveCompany["company"]["logo"]>;

/** The picture mails and forms carry on top. */
function Logo({
  logo,
  onChange,
}: {
  readonly logo: LogoFile | null;
  readonly onChange: (logo: LogoFile | null) => void;
}) {
  const say = useSay();
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      onChange(await upload("POST /files", file.name, file));
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <div className={styles.row}>
      {logo && (
        <img
          src={`/api/v1/files/${logo.fileId}?name=${encodeURIComponent(logo.name)}`}
          alt="The logo"
          height={48}
        />
      )}
      <label className={styles.file}>
        {logo ? "Another logo" : "Add a logo"}
        <input
          type="file"
          accept="image/png,image/jpeg,image/gif,image/webp"
          onChange={(e) => {
            void take(e.target.files?.[0]);
            e.target.value = "";
          }}
        />
      </label>
      {logo && (
        <Button look="bare" onClick={() => onChange(null)}>
          Without a logo
        </Button>
      )}
    </div>
  );
}

interface LanguagesProps {
  readonly chosen: readonly string[];
  readonly known: readonly { readonly key: string; readonly name: string }[];
  readonly onChange: (chosen: string[]) => void;
}

/** Languages leads are written to in; the first is taken where nobody knows better. */
function Languages({ chosen, known, onChange }: LanguagesProps) {
  const nameOf = (key: string) => known.find((l) => l.key === key)?.name ?? key;
  return (
    <>
      <h2>Languages</h2>
      <p className={styles.intro}>
        Leads are written to in theirs, where a text has it, else in the first. A lead whose language nobody
        knows gets the first.
      </p>
      <table className={styles.table}>
        <tbody className={styles.mid}>
          {chosen.map((key, i) => (
            <tr key={key}>
              <td>
                {nameOf(key)} {i === 0 && <span className={styles.quiet}>first</span>}
              </td>
              <td className={styles.figure}>
                {i > 0 && (
                  <Button
                    look="bare"
                    aria-label={`Put ${nameOf(key)} first`}
                    onClick={() => onChange([key, ...chosen.filter((k) => k !== key)])}
                  >
                    Put first
                  </Button>
                )}
                {chosen.length > 1 && (
                  <Button
                    look="bare"
                    aria-label={`Remove ${nameOf(key)}`}
                    onClick={() => onChange(chosen.filter((k) => k !== key))}
                  >
                    Remove
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className={styles.stack}>
        <Choice
          label="Add a language"
          value=""
          options={[
            { value: "", label: "choose …" },
            ...asOptions(known.filter((l) => !chosen.includes(l.key))),
          ]}
          onChange={(key) => key && onChange([...chosen, key])}
        />
      </div>
    </>
  );
}
