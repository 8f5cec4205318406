import { useState } from "react";
import { dayTime } from "../../../core/time/words.ts";
import { useNow } from "../../live/clock.ts";
import { useListAct, useListSends, useSendList } from "../../live/list-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import type { ListSends, SavedList } from "../../wire/list-schemas.ts";
import { OpenLinks } from "../access/OpenLinks.tsx";
import styles from "./Watch.module.css";

const DAYS = [
  { value: "", label: "every day" },
  ...["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"].map((day, i) => ({
    value: String(i + 1),
    label: `every ${day}`,
  })),
];
const FORMATS = [
  { value: "csv", label: "CSV table" },
  { value: "json", label: "JSON" },
  { value: "vcf", label: "vCards" },
] as const;
type Format = (typeof FORMATS)[number]["value"];

interface Props {
  readonly list: SavedList;
  readonly zone: string;
  readonly onClose: () => void;
}

/** What a list does for whoever has it open: the page they begin with, what they are told, and where it is sent by itself. */
export function WatchDialog({ list, zone, onClose }: Props) {
  const { look } = useListAct();
  // Ticked at once; what could not be kept is as it was.
  const [first, setFirst] = useState(list.first);
  const [enters, setEnters] = useState(list.tell.enters);
  const [over, setOver] = useState(list.tell.over === null ? "" : String(list.tell.over));
  const number = over.trim() === "" ? null : Number(over);
  const isNumber = number === null || (Number.isInteger(number) && number >= 0);
  const keep = () => {
    if (isNumber && number !== list.tell.over) look.mutate({ id: list.id, tell: { enters, over: number } });
  };
  return (
    <Dialog title={`Watch “${list.name}”`} onClose={onClose} as="wide">
      <div className={styles.parts}>
        <label>
          <input
            type="checkbox"
            checked={first}
            onChange={(e) => {
              setFirst(e.target.checked);
              look.mutate({ id: list.id, first: e.target.checked }, { onError: () => setFirst(list.first) });
            }}
          />
          Begin here: it is the first page when I open Kite Bell
        </label>
        <label>
          <input
            type="checkbox"
            checked={enters}
            onChange={(e) => {
              setEnters(e.target.checked);
              look.mutate(
                { id: list.id, tell: { enters: e.target.checked, over: isNumber ? number : list.tell.over } },
                { onError: () => setEnters(list.tell.enters) },
              );
            }}
          />
          Tell me of each lead that comes into it
        </label>
        <div className={styles.over}>
          <Field
            label="Tell me when it has more leads than"
            inputMode="numeric"
            value={over}
            placeholder="never"
            error={isNumber ? undefined : "Give a number of leads, or nothing for never."}
            onChange={(e) => setOver(e.target.value)}
            onBlur={keep}
            onKeyDown={(e) => e.key === "Enter" && keep()}
          />
        </div>
        <p className={styles.how}>
          By which ways you are told is your own choice under <a href="/account">Account</a>, “A list I watch
          has something new”.
        </p>
        {look.error && <p role="alert">{look.error.message}</p>}
        <Sends list={list} zone={zone} />
        <section aria-label="Fetched by other programs">
          <h3>Fetched by other programs</h3>
          <p className={styles.how}>
            A secret address for a spreadsheet that fetches. It gives what you may see of the list at that
            moment.
          </p>
          <OpenLinks zone={zone} listId={list.id} />
        </section>
      </div>
    </Dialog>
  );
}

/** Where a list is sent by itself. */
function Sends({ list, zone }: { readonly list: SavedList; readonly zone: string }) {
  const { data, error } = useListSends(list.id);
  const { remove, now: sendNow } = useSendList(list.id);
  const now = useNow();
  if (error) return <p role="alert">{error.message}</p>;
  if (!data) return <p>Looking up where it is sent …</p>;
  return (
    <section aria-label="Sent by itself" className={styles.sends}>
      <h3>Sent by itself</h3>
      {data.items.length === 0 && <p className={styles.how}>It is sent nowhere.</p>}
      <ul>
        {data.items.map((send) => (
          <li key={send.id}>
            <p>
              To {send.to.name} {DAYS[send.weekday ?? 0]?.label} at {send.time}, as{" "}
              {FORMATS.find((f) => f.value === send.format)?.label}
              <small>
                next {dayTime(Date.parse(send.nextAt), zone, now)}
                {send.said && `; last: ${send.said}`}
              </small>
            </p>
            <Button disabled={sendNow.isPending} onClick={() => sendNow.mutate(send.id)}>
              Send now
            </Button>
            <Button look="bare" onClick={() => remove.mutate(send.id)}>
              Stop
            </Button>
          </li>
        ))}
      </ul>
      {(sendNow.error ?? remove.error) && <p role="alert">{(sendNow.error ?? remove.error)?.message}</p>}
      <AddSend list={list} data={data} />
    </section>
  );
}

function AddSend({ list, data }: { readonly list: SavedList; readonly data: ListSends }) {
  const { add } = useSendList(list.id);
  const [to, setTo] = useState("");
  const [format, setFormat] = useState<Format>("csv");
  const [day, setDay] = useState("");
  const [time, setTime] = useState("08:00");
  const options = [
    { value: "", label: "Choose …" },
    ...data.people.map((p) => ({ value: `person:${p.id}`, label: p.name, group: "By mail" })),
    ...data.hooks.map((h) => ({ value: `hook:${h.id}`, label: h.name, group: "Other systems" })),
  ];
  const [kind, ...rest] = to.split(":");
  const isHook = kind === "hook";
  return (
    <form
      className={styles.add}
      onSubmit={(event) => {
        event.preventDefault();
        if (to)
          add.mutate(
            {
              to: { kind: isHook ? "hook" : "person", id: rest.join(":") },
              format: isHook ? "json" : format,
              weekday: day === "" ? null : Number(day),
              time,
            },
            { onSuccess: () => setTo("") },
          );
      }}
    >
      <Choice label="To" value={to} options={options} onChange={setTo} />
      <Choice
        label="As"
        value={isHook ? "json" : format}
        options={isHook ? FORMATS.filter((f) => f.value === "json") : [...FORMATS]}
        onChange={setFormat}
      />
      <Choice label="When" value={day} options={DAYS} onChange={setDay} />
      <Field label="At" type="time" value={time} onChange={(e) => setTime(e.target.value)} />
      <Button type="submit" look="strong" disabled={!to || !time || add.isPending}>
        Send it
      </Button>
      {add.error && (
        <p role="alert" className={styles.wrong}>
          {add.error.message}
        </p>
      )}
    </form>
  );
}
