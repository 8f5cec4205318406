import { useState } from "react";
import { dayTime } from "../../../core/time/words.ts";
import { useAccess, useKeys } from "../../live/access-queries.ts";
import { deskNow } from "../../live/clock.ts";
import { useQueue } from "../../live/queries.ts";
import { useChange } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Copy } from "../../ui/Copy.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Field } from "../../ui/Field.tsx";
import type { Access } from "../../wire/access-schemas.ts";
import setup from "../setup/Setup.module.css";
import { SetupFrame } from "../setup/SetupFrame.tsx";
import { RolesTable } from "./RolesTable.tsx";

/** Who can sign in, what each role may do, and the keys of other programs. */
export function AccessView() {
  return (
    <SetupFrame place="Access">
      <Accesses />
    </SetupFrame>
  );
}

function Accesses() {
  const { data, error } = useAccess();
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  if (!data) return <p className={setup.quiet}>Looking …</p>;
  return (
    <>
      <h1>Access</h1>
      <p className={setup.intro}>
        People are added under <a href="/setup/people">People</a>; here they get a way in. Their role says
        what they may do.
      </p>
      <Accounts people={data.people} />
      <Roles />
      <Keys data={data} />
    </>
  );
}

function Accounts({ people }: { readonly people: Access["people"] }) {
  const change = useChange();
  const [link, setLink] = useState<{ name: string; url: string; mailed: boolean } | null>(null);
  return (
    <>
      {link && (
        <div className={setup.good} role="status">
          {link.mailed
            ? `The invitation of ${link.name} is on its way. It is also here, to hand over yourself.`
            : `No mail leaves yet: hand this link to ${link.name} yourself.`}{" "}
          It is good for a week.
          <Copy text={link.url} label={`the invitation of ${link.name}`} />
        </div>
      )}
      <table className={`${setup.table} ${setup.cards}`}>
        <thead>
          <tr>
            <th>Name</th>
            <th>Role</th>
            <th>Signs in with</th>
            <th>Account</th>
          </tr>
        </thead>
        <tbody>
          {people.map((p) => (
            <tr key={p.id}>
              <td>{p.name}</td>
              <td>{p.role}</td>
              <td>{p.email}</td>
              <td>
                {p.hasAccount ? (
                  <span className={setup.row}>
                    <span className={setup.live}>can sign in</span>
                    <Button
                      look="bare"
                      aria-label={`Sign ${p.name} out everywhere`}
                      onClick={() =>
                        change.mutate({
                          call: "POST /access/people/[id]/sign-out",
                          params: { id: p.id },

                          said: ({ ended }) =>
                            `${p.name} was signed in at ${ended} places, and is no longer.`,
                        })
                      }
                    >
                      Sign out everywhere
                    </Button>
                  </span>
                ) : (
                  <Button
                    look="bare"
                    aria-label={`Invite ${p.name}`}
                    onClick={() =>
                      change.mutate({
                        call: "POST /access/people/[id]/invite",
                        params: { id: p.id },

                        said: "",
                        after: ({ url, mailed }) => setLink({ name: p.name, url, mailed }),
                      })
                    }
                  >
                    Invite
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function Roles() {
  return (
    <>
      <h2>What each role may do</h2>
      <RolesTable />
    </>
  );
}

function Keys({ data }: { readonly data: Access }) {
  const { data: keys = [] } = useKeys();
  const { data: queue } = useQueue();
  const zone = queue?.zone ?? "UTC";
  const change = useChange();
  const [name, setName] = useState("");
  const [scopes, setScopes] = useState<Access["scopes"][number]["key"][]>(["read"]);
  const [made, setMade] = useState<string | null>(null);
  return (
    <>
      <h2>API keys</h2>
      <p className={setup.intro}>
        For other programs: <code>Authorization: Bearer</code> with the key. A key acts for whoever made it
        and never does more than they may. What there is to call: <a href="/api">API</a>, for programs{" "}
        <a href="/api/v1/openapi.json">openapi.json</a>.
      </p>
      <form
        className={setup.row}
        onSubmit={(e) => {
          e.preventDefault();
          change.mutate({
            call: "POST /keys",
            body: { name, scopes },
            said: "",
            after: ({ key }) => {
              setMade(key);
              setName("");
            },
          });
        }}
      >
        <Field label="Which program it is for" value={name} onChange={(e) => setName(e.target.value)} />
        {data.scopes.map(({ key, said }) => (
          <label key={key} className={setup.check}>
            <input
              type="checkbox"
              checked={scopes.includes(key)}
              onChange={(e) =>
                setScopes(e.target.checked ? [...scopes, key] : scopes.filter((s) => s !== key))
              }
            />
            {said}
          </label>
        ))}
        <Button type="submit" disabled={change.isPending}>
          Make a key
        </Button>
      </form>
      {made && (
        <div className={setup.good} role="status">
          Copy it now, it is not shown again. <Copy text={made} label="the key" />
        </div>
      )}
      {keys.length === 0 && !made && (
        <Empty title="No key yet">Make one for each program, so that each can be revoked alone.</Empty>
      )}
      {keys.length > 0 && (
        <table className={`${setup.table} ${setup.cards}`}>
          <thead>
            <tr>
              <th>Program</th>
              <th>Key</th>
              <th>May</th>
              <th>Last used</th>
              <th>State</th>
            </tr>
          </thead>
          <tbody>
            {keys.map((k) => (
              <tr key={k.id}>
                <td>{k.name}</td>
                <td>
                  <code>{k.start}…</code>
                </td>
                <td>{k.scopes.join(", ")}</td>
                <td>{k.lastUsedAt ? dayTime(Date.parse(k.lastUsedAt), zone, deskNow()) : "never"}</td>
                <td>
                  {k.revokedAt ? (
                    <span className={setup.quiet}>revoked</span>
                  ) : (
                    <Button
                      look="bare"
                      aria-label={`Revoke the key of ${k.name}`}
                      onClick={() =>
                        change.mutate({
                          call: "POST /keys/[id]/revoke",
                          params: { id: k.id },

                          said: `${k.name} can no longer call.`,
                        })
                      }
                    >
                      Revoke
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
