import { useState } from "react";
import { call } from "../../../live/api.ts";
import { useHours } from "../../../live/bells-queries.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { ActsHead } from "../../../ui/ActsHead.tsx";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import { useSay } from "../../../ui/Toasts.tsx";
import type { HoursSetup, SaveHours } from "../../../wire/bells-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { DaySpans, WeekHours } from "../WeekHours.tsx";

/** When the desk is open: the week, holidays, half days, and closing early today. */
export function HoursView() {
  return (
    <SetupFrame place="Desk hours">
      <Hours />
    </SetupFrame>
  );
}

interface Saved {
  readonly setup: HoursSetup;
  readonly moved: number;
}

const draftOf = ({ zone, week, exceptions, holidays }: HoursSetup): SaveHours => ({
  zone,
  week,
  exceptions,
  holidays,
});

const said = ({ moved }: Saved) =>
  `In force. ${moved} running ${moved === 1 ? "bell has another time, and its thread says why" : "bells have other times, and their threads say why"}.`;

function Hours() {
  const { data, error } = useHours();
  const save = useChange();
  const [draft, setDraft] = useSetupDraft<SaveHours>("hours", data ? draftOf(data) : null);
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  if (!data || !draft) return <p className={setup.quiet}>Looking …</p>;
  const changed = JSON.stringify(draft) !== JSON.stringify(draftOf(data));
  return (
    <>
      <div className={setup.top}>
        <h1>Desk hours</h1>
        <a href="/setup/bells">Bells</a>
      </div>
      <p className={setup.intro}>
        Desk minutes are counted while the desk is open. Whatever is changed here moves every bell that runs,
        at once, with the reason in its thread.
      </p>
      <CloseToday data={data} onDone={(now) => setDraft(draftOf(now))} />
      <h2>The week</h2>
      <WeekHours
        hours={draft as Parameters<typeof WeekHours>[0]["hours"]}
        off="closed"
        onChange={({ zone, week }) => setDraft({ ...draft, zone, week })}
      />
      <h2>Days that differ</h2>
      <Holidays data={data} draft={draft} onChange={setDraft} />
      <Days draft={draft} today={data.today} onChange={setDraft} />
      {changed && (
        <SaveBar
          saving={save.isPending}
          onSave={() =>
            save.mutate({
              call: "POST /setup/hours",
              body: draft,
              said,
              after: (now) => setDraft(draftOf(now.setup)),
            })
          }
          draft={draft}
          onDraft={setDraft}
        />
      )}
    </>
  );
}

interface CloseProps {
  readonly data: HoursSetup;
  readonly onDone: (setup: HoursSetup) => void;
}

/** Snow: the desk closes from some hour on, today. */
function CloseToday({ data, onDone }: CloseProps) {
  const change = useChange();
  const [from, setFrom] = useState("13:00");
  const [name, setName] = useState("");
  const today = data.exceptions[data.today];
  return (
    <form
      className={setup.ends}
      aria-label="Close early today"
      onSubmit={(e) => {
        e.preventDefault();
        change.mutate({
          call: "POST /setup/hours/close",
          body: { from, name },
          said,
          after: (done) => {
            setName("");
            onDone(done.setup);
          },
        });
      }}
    >
      <Field label="Close today from" type="time" value={from} onChange={(e) => setFrom(e.target.value)} />
      <Field
        label="Why: it stands on every bell it moves"
        placeholder="Snow day"
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <Button type="submit" disabled={!name.trim() || change.isPending}>
        Close early
      </Button>
      {today && <span className={setup.quiet}>Today is already “{today.name}”.</span>}
      {today?.instead !== undefined && (
        <Button
          disabled={change.isPending}
          onClick={() =>
            change.mutate({
              call: "POST /setup/hours/open",
              body: { date: data.today },
              said: ({ moved }) =>
                `Open again as before. ${moved} ${moved === 1 ? "bell is" : "bells are"} back.`,
              after: (done) => onDone(done.setup),
            })
          }
        >
          Take the early closing back
        </Button>
      )}
    </form>
  );
}

interface DraftProps {
  readonly draft: SaveHours;
  readonly onChange: (draft: SaveHours) => void;
}

/** Public holidays of a place are fetched into the list below, as closed days that can be changed there. */
function Holidays({ data, draft, onChange }: DraftProps & { readonly data: HoursSetup }) {
  const say = useSay();
  const year = Number(data.today.slice(0, 4));
  const country = draft.holidays?.country ?? "";
  const [regions, setRegions] = useState(data.regions);
  const load = async (which: { country: string; region: string | null }, y: number) =>
    call("GET /setup/holidays", { query: { country: which.country, region: which.region ?? "", year: y } });
  const choose = async (next: string) => {
    if (!next) return onChange({ ...draft, holidays: null });
    onChange({ ...draft, holidays: { country: next, region: null } });
    setRegions((await load({ country: next, region: null }, year)).regions);
  };
  const fetchAll = async () => {
    if (!draft.holidays) return;
    const both = await Promise.all([load(draft.holidays, year), load(draft.holidays, year + 1)]);
    const found = both.flatMap((b) => b.items).filter((h) => h.date >= data.today);
    const fresh = found.filter((h) => !(h.date in draft.exceptions));
    const exceptions = { ...draft.exceptions };
    for (const { date, name } of fresh) exceptions[date] = { name, spans: [] };
    onChange({ ...draft, exceptions });
    say.done(`${fresh.length} closed days were added below. Nothing holds until it is put in force.`);
  };
  return (
    <div className={setup.ends}>
      <Choice
        label="Public holidays of"
        value={country}
        options={[
          { value: "", label: "no country" },
          ...data.countries.map((c) => ({ value: c.key, label: c.name })),
        ]}
        onChange={(next) => void choose(next)}
      />
      {draft.holidays && regions.length > 0 && (
        <Choice
          label="Region"
          value={draft.holidays.region ?? ""}
          options={[
            { value: "", label: "the whole country" },
            ...regions.map((r) => ({ value: r.key, label: r.name })),
          ]}
          onChange={(region) => onChange({ ...draft, holidays: { country, region: region || null } })}
        />
      )}
      <Button disabled={!draft.holidays} onClick={() => void fetchAll()}>
        Add those of {year} and {year + 1}
      </Button>
    </div>
  );
}

/** Dates with hours of their own: closed days, half days, longer days. */
function Days({ draft, today, onChange }: DraftProps & { readonly today: string }) {
  const [past, setPast] = useState(false);
  const dates = Object.keys(draft.exceptions).sort();
  const shown = dates.filter((d) => past || d >= today);
  const put = (date: string, day: SaveHours["exceptions"][string]) =>
    onChange({ ...draft, exceptions: { ...draft.exceptions, [date]: day } });
  const remove = (date: string) => {
    const { [date]: _, ...exceptions } = draft.exceptions;
    onChange({ ...draft, exceptions });
  };
  const [fresh, setFresh] = useState("");
  return (
    <>
      {shown.length === 0 && (
        <p className={setup.quiet}>No day ahead differs from the week. Add holidays, or a day below.</p>
      )}
      {shown.length > 0 && (
        <table className={setup.table}>
          <thead>
            <tr>
              <th>Date</th>
              <th>What it is</th>
              <th>Open</th>
              <ActsHead />
            </tr>
          </thead>
          <tbody>
            {shown.map((date) => {
              const day = draft.exceptions[date]!;
              return (
                <tr key={date} className={setup.mid}>
                  <td>{date}</td>
                  <td>
                    <Field
                      label={`What ${date} is`}
                      quiet
                      value={day.name}
                      onChange={(e) => put(date, { ...day, name: e.target.value })}
                    />
                  </td>
                  <td>
                    <span className={setup.row}>
                      <DaySpans
                        name={date}
                        spans={day.spans}
                        off="closed"
                        onChange={(spans) => put(date, { ...day, spans })}
                      />
                    </span>
                  </td>
                  <td>
                    <Button look="bare" aria-label={`Remove ${date}`} onClick={() => remove(date)}>
                      Remove
                    </Button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      <div className={setup.ends}>
        <Field
          label="Another day that differs"
          type="date"
          value={fresh}
          onChange={(e) => setFresh(e.target.value)}
        />
        <Button
          disabled={!fresh || fresh in draft.exceptions}
          onClick={() => {
            put(fresh, { name: "Closed", spans: [] });
            setFresh("");
          }}
        >
          Add the day
        </Button>
        {dates.some((d) => d < today) && (
          <label className={setup.check}>
            <input type="checkbox" checked={past} onChange={(e) => setPast(e.target.checked)} />
            past days too
          </label>
        )}
      </div>
    </>
  );
}
