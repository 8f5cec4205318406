import { useState } from "react";
import { dayTime } from "../../../../core/time/words.ts";
import { useNow } from "../../../live/clock.ts";
import { useMe, useQueue } from "../../../live/queries.ts";
import { useAds, useChange, useSources } from "../../../live/setup-queries.ts";
import { ActsHead } from "../../../ui/ActsHead.tsx";
import { Button } from "../../../ui/Button.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { Ads } from "../../../wire/setup-schemas.ts";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { heardOf } from "../words.ts";

/** The ad platform: connect, and choose forms by name. */
export function AdsView({ said }: { readonly said: string | null }) {
  return (
    <SetupFrame place="Ad platform">
      <h1>Ad platform</h1>
      <p className={styles.intro}>
        Connect once by signing in there. Then choose the lead forms you want by name: each becomes a source,
        its deliveries are signed, and what is missed while the desk is off is fetched when it is back.
      </p>
      {said && (
        <p className={styles.warn} role="alert">
          {said}
        </p>
      )}
      <Accounts />
    </SetupFrame>
  );
}

function Accounts() {
  const { data: ads, error } = useAds();
  const connect = useChange();
  const choose = useChange();
  const disconnect = useChange();
  const { data: sources = [] } = useSources();
  const { data: queue } = useQueue();
  const now = useNow();
  const last = (key: string | null) => {
    const source = sources.find((s) => s.key === key);
    return source ? heardOf(source, queue?.zone ?? "UTC", now) : "";
  };
  const go = () =>
    connect.mutate({ call: "POST /ads/connect", said: "", after: ({ url }) => location.assign(url) });
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!ads) return <p className={styles.quiet}>Asking the platform …</p>;
  if (!ads.connected)
    return (
      <>
        <Platform address={ads.address} />
        <Empty title="Not connected">
          <p>
            {ads.address
              ? "You sign in at the platform, allow it, and come back here."
              : "First the desk must know where the platform is."}
          </p>
          <Button look="strong" disabled={!ads.address} onClick={go}>
            Connect
          </Button>
        </Empty>
      </>
    );
  return (
    <>
      {ads.problem && <p className={styles.wrong}>{ads.problem}</p>}
      <p className={styles.row}>
        <span className={styles.live}>◆ connected</span>
        {ads.since && (
          <span className={styles.quiet}>
            by {ads.since.by}, {dayTime(Date.parse(ads.since.at), queue?.zone ?? "UTC", now)}
          </span>
        )}
        <Button look="bare" onClick={go}>
          Connect again
        </Button>
        <Button
          look="bare"
          hint="Sources stay; what was missed is no longer fetched"
          disabled={disconnect.isPending}
          onClick={() =>
            disconnect.mutate({
              call: "POST /ads/disconnect",
              said: "Disconnected. The sources stay; what was missed is no longer fetched.",
            })
          }
        >
          Disconnect
        </Button>
      </p>
      {ads.accounts.map((account) => (
        <section key={account.id}>
          <h2>{account.name}</h2>
          {account.pages.map((page) => (
            <table key={page.id} className={styles.table}>
              <thead>
                <tr>
                  <th>Forms of the page {page.name}</th>
                  <th>Last came</th>
                  <ActsHead />
                </tr>
              </thead>
              <tbody>
                {page.forms.map((form) => (
                  <tr key={form.id}>
                    <td>
                      <b>{form.name}</b>
                    </td>
                    <td>{last(form.source)}</td>
                    <td className={styles.figure}>
                      {form.source ? (
                        <a href={`/setup/sources/${form.source}`}>Open source</a>
                      ) : (
                        <Button
                          disabled={choose.isPending}
                          onClick={() =>
                            choose.mutate({
                              call: "POST /ads/forms",
                              body: { accountId: account.id, formId: form.id },
                              said: "",
                              after: (source) => location.assign(`/setup/sources/${source.key}?tab=mapping`),
                            })
                          }
                        >
                          Use this form
                        </Button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          ))}
        </section>
      ))}
    </>
  );
}

/** Where the platform is: entered by an administrator, unless it was said when Kite Bell was started. */
function Platform({ address }: { readonly address: Ads["address"] }) {
  const { data: me } = useMe();
  const save = useChange();
  const [url, setUrl] = useState(address?.url ?? "");
  // In a rehearsal the platform is a stand-in.
  if (me?.rehearsal) return null;
  if (address?.from === "environment")
    return (
      <p className={styles.quiet}>
        {address.url}, given by KITEBELL_ADS_URL when Kite Bell was started. It is changed there.
      </p>
    );
  if (!me?.rights.includes("access")) return null;
  return (
    <form
      className={styles.ends}
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate({ call: "POST /ads/platform", body: { url: url || null }, said: "Kept. Connect now." });
      }}
    >
      <Field
        label="Address of the platform"
        type="url"
        placeholder="https://ads.example.com"
        value={url}
        onChange={(e) => setUrl(e.target.value)}
      />
      <Button type="submit" look="strong" disabled={save.isPending || url === (address?.url ?? "")}>
        Use it
      </Button>
    </form>
  );
}
