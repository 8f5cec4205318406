import { useAds, useChange } from "../../../live/setup-queries.ts";
import { ActsHead } from "../../../ui/ActsHead.tsx";
import { Button } from "../../../ui/Button.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";

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
  const go = () =>
    connect.mutate({ call: "POST /ads/connect", said: "", after: ({ url }) => location.assign(url) });
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!ads) return <p className={styles.quiet}>Asking the platform …</p>;
  if (!ads.connected)
    return (
      <Empty title="Not connected">
        <p>You sign in at the platform, allow it, and come back here.</p>
        <Button look="strong" onClick={go}>
          Connect
        </Button>
      </Empty>
    );
  return (
    <>
      {ads.problem && <p className={styles.wrong}>{ads.problem}</p>}
      <p className={styles.row}>
        <span className={styles.live}>◆ connected</span>
        <Button look="bare" onClick={go}>
          Connect again
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
                  <ActsHead />
                </tr>
              </thead>
              <tbody>
                {page.forms.map((form) => (
                  <tr key={form.id}>
                    <td>
                      <b>{form.name}</b>
                    </td>
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
