import { useState } from "react";
import { dateTime, duration } from "../../../../core/time/words.ts";
import { deskNow } from "../../../live/clock.ts";
import { useQueue } from "../../../live/queries.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { useBackups } from "../../../live/ways-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Copy } from "../../../ui/Copy.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { Field } from "../../../ui/Field.tsx";
import { Scrolls } from "../../../ui/Scrolls.tsx";
import type { Backups, SaveBackups } from "../../../wire/access-schemas.ts";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import tables from "../Table.module.css";
import own from "./Backups.module.css";

/** Whether the desk is safe, and how it is brought back. */
export function BackupsView() {
  return (
    <SetupFrame place="Backups">
      <Shown />
    </SetupFrame>
  );
}

function Shown() {
  const { data, error } = useBackups();
  const { data: queue } = useQueue();
  const now = useChange();
  if (error && !data) return <p className={styles.wrong}>{error.message}</p>;
  if (!data || !queue) return <p className={styles.quiet}>Looking …</p>;
  const isRunning = data.last?.state === "running";
  return (
    <>
      <h1>Backups</h1>
      <p className={styles.intro}>
        Everything the desk keeps, with the files that came with messages, as it is at one moment; the desk
        goes on meanwhile. Each is read again and checked once it is written.
      </p>
      <Standing data={data} zone={queue.zone} />
      <p className={own.now}>
        <Button
          disabled={isRunning || now.isPending}
          onClick={() => now.mutate({ call: "POST /backups/now", said: "" })}
        >
          {isRunning ? "Backing up …" : "Back up now"}
        </Button>
      </p>
      <Kept data={data} zone={queue.zone} />
      <When data={data} key={JSON.stringify([data.on, data.time, data.keep])} />
      <Seal isSealed={data.sealed} data={data} />
      <Away data={data} key={JSON.stringify(data.away)} />
    </>
  );
}

function Standing({
  data: { last, items, nextAt },
  zone,
}: {
  readonly data: Backups;
  readonly zone: string;
}) {
  const newest = items[0];
  return (
    <p role="status">
      {last?.state === "failed" ? (
        <span className={styles.wrong}>The last one failed: {last.error} </span>
      ) : (
        newest && `The newest is ${duration(deskNow() - Date.parse(newest.at))} old and has been checked. `
      )}
      {last?.awayError && (
        <span className={styles.wrong}>It was not copied to the bucket: {last.awayError} </span>
      )}
      {nextAt
        ? `The next one is made ${dateTime(Date.parse(nextAt), zone, deskNow())}.`
        : "None is made by itself."}
    </p>
  );
}

const size = (bytes: number): string =>
  bytes < 1_000_000 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`;

function Kept({ data: { items, place }, zone }: { readonly data: Backups; readonly zone: string }) {
  if (items.length === 0)
    return (
      <Empty title="There is no backup yet">
        <p>The first one is made at its time, or now.</p>
      </Empty>
    );
  const count = (n: number) => n.toLocaleString("en");
  return (
    <>
      <Scrolls label="Backups">
        <table className={tables.table}>
          <thead>
            <tr>
              <th scope="col">Made</th>
              <th scope="col">Leads</th>
              <th scope="col">Events</th>
              <th scope="col">Files</th>
              <th scope="col">Size</th>
              <th scope="col">Sealed</th>
            </tr>
          </thead>
          <tbody>
            {items.map((b) => (
              <tr key={b.name}>
                <th scope="row">{dateTime(Date.parse(b.at), zone, deskNow())}</th>
                <td>{count(b.leads)}</td>
                <td>{count(b.events)}</td>
                <td>{count(b.files)}</td>
                <td>{size(b.bytes)}</td>
                <td>{b.sealed ? "yes" : "no"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scrolls>
      <p className={own.how}>
        To bring the newest back, on this machine or another one, into an empty folder:{" "}
        <Copy
          label="Copy the command"
          text={`npm run restore -- --from ${place}/${items[0]!.name} --data new-folder`}
        />
      </p>
    </>
  );
}

function When({ data }: { readonly data: Backups }) {
  const change = useChange();
  const [on, setOn] = useState(data.on);
  const [time, setTime] = useState(data.time);
  const [keep, setKeep] = useState(() => ({
    daily: String(data.keep.daily),
    weekly: String(data.keep.weekly),
    monthly: String(data.keep.monthly),
  }));
  const number = (key: keyof typeof keep, label: string, max: number) => (
    <Field
      label={label}
      type="number"
      required
      min={0}
      max={max}
      value={keep[key]}
      onChange={(e) => setKeep({ ...keep, [key]: e.target.value })}
    />
  );
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        change.mutate({
          call: "POST /backups",
          body: {
            on,
            time,
            keep: { daily: Number(keep.daily), weekly: Number(keep.weekly), monthly: Number(keep.monthly) },
          },
          said: "Kept.",
        });
      }}
    >
      <h2>When, and how many are kept</h2>
      <label className={own.tick}>
        <input type="checkbox" checked={on} onChange={(e) => setOn(e.target.checked)} />
        Every day by itself
      </label>
      <div className={own.fields}>
        <Field label="At" type="time" required value={time} onChange={(e) => setTime(e.target.value)} />
        {number("daily", "Days", 60)}
        {number("weekly", "Weeks", 104)}
        {number("monthly", "Months", 240)}
        <Button type="submit" look="strong" disabled={change.isPending}>
          Keep
        </Button>
      </div>
      <p className={styles.quiet}>
        The newest of each of so many last days, weeks and months is kept; what is more is taken away after
        the next one that is made by itself.
        {!data.away &&
          " A backup beside the desk does not outlive its disk: copy the folder to another machine, or see below."}
      </p>
    </form>
  );
}

function Seal({ isSealed, data }: { readonly isSealed: boolean; readonly data: Backups }) {
  const change = useChange();
  const [passphrase, setPassphrase] = useState("");
  const put = (next: string | null, said: string) => {
    const { on, time, keep } = data;
    change.mutate({
      call: "POST /backups",
      body: { on, time, keep, passphrase: next },
      said,
      after: () => setPassphrase(""),
    });
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        put(passphrase, "Those made from now on are sealed.");
      }}
    >
      <h2>Seal</h2>
      <p className={styles.quiet}>
        {isSealed
          ? "Those made now are sealed: without the passphrase nobody opens them, we included. Keep it where the desk is not."
          : "Those made now are open to whoever has the folder. Sealed ones also carry the key of passwords you have entered here."}
      </p>
      <div className={own.fields}>
        <Field
          label={isSealed ? "Another passphrase" : "Passphrase, 12 characters or more"}
          type="password"
          autoComplete="new-password"
          minLength={12}
          required
          value={passphrase}
          onChange={(e) => setPassphrase(e.target.value)}
        />
        <Button type="submit" look="strong" disabled={change.isPending || passphrase.length < 12}>
          Seal them
        </Button>
        {isSealed && (
          <Button
            look="bare"
            disabled={change.isPending}
            onClick={() => put(null, "Those made from now on are not sealed.")}
          >
            Seal them no more
          </Button>
        )}
      </div>
    </form>
  );
}

/** Copies where the desk is not, so that they outlive its machine. */
function Away({ data }: { readonly data: Backups }) {
  const change = useChange();
  const { away, on, time, keep, sealed } = data;
  const [url, setUrl] = useState(away?.url ?? "");
  const [region, setRegion] = useState(away?.region ?? "");
  const [keyId, setKeyId] = useState(away?.keyId ?? "");
  const [secret, setSecret] = useState("");
  const put = (next: SaveBackups["away"], said: string) =>
    change.mutate({ call: "POST /backups", body: { on, time, keep, away: next }, said });
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        put({ url, region, keyId, ...(secret && { secret }) }, "It works: the next backup is copied there.");
      }}
    >
      <h2>Copies in a bucket</h2>
      <p className={styles.quiet}>
        {away
          ? "Each sealed backup is copied there, read again and compared, and kept by the same pattern."
          : "A bucket of any server that speaks S3’s protocol: your own, or a rented one. Sealed backups alone are copied there."}
        {!sealed && !away && " Seal them first."}
      </p>
      <div className={own.fields}>
        <Field
          label="Address"
          type="url"
          required
          disabled={!sealed}
          placeholder="https://s3.example.com/bucket/folder"
          value={url}
          onChange={(e) => setUrl(e.target.value)}
        />
        <Field
          label="Region"
          disabled={!sealed}
          placeholder="as usual"
          value={region}
          onChange={(e) => setRegion(e.target.value)}
        />
        <Field
          label="Key"
          required
          disabled={!sealed}
          autoComplete="off"
          value={keyId}
          onChange={(e) => setKeyId(e.target.value)}
        />
        <Field
          label="Its secret"
          type="password"
          autoComplete="new-password"
          disabled={!sealed}
          required={!away?.hasSecret}
          placeholder={away?.hasSecret ? "as it is" : ""}
          value={secret}
          onChange={(e) => setSecret(e.target.value)}
        />
        <Button type="submit" look="strong" disabled={!sealed || change.isPending}>
          {change.isPending ? "Trying …" : away ? "Change it" : "Copy them there"}
        </Button>
        {away && (
          <Button
            look="bare"
            disabled={change.isPending}
            onClick={() => put(null, "Nothing is copied there any more. What lies there stays.")}
          >
            Copy no more
          </Button>
        )}
      </div>
    </form>
  );
}
