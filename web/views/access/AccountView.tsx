import { useState } from "react";
import { RIGHTS, type Right } from "../../../core/access/access.ts";
import { readablePhone } from "../../../core/contact/readable-phone.ts";
import { dayTime, zoneName } from "../../../core/time/words.ts";
import { App } from "../../frame/App.tsx";
import { useSessions } from "../../live/access-queries.ts";
import { deskNow } from "../../live/clock.ts";
import { useMe } from "../../live/queries.ts";
import { useEditing } from "../../live/setup-draft.ts";
import { useChange } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Field } from "../../ui/Field.tsx";
import type { Me } from "../../wire/schemas.ts";
import { AlertMatrix, Browser } from "../setup/alerts/AlertMatrix.tsx";
import setup from "../setup/Setup.module.css";
import { DutyDialog } from "./DutyDialog.tsx";
import { OpenLinks } from "./OpenLinks.tsx";
import { RolesTable } from "./RolesTable.tsx";

/** One's own account: on or off duty, where one is signed in, one's password. */
export function AccountView() {
  return (
    <App view="Account">
      <main className={setup.page}>
        <Account />
      </main>
    </App>
  );
}

function Account() {
  const { data: me } = useMe();
  const change = useChange();
  const [leaving, setLeaving] = useState(false);
  if (!me) return <p className={setup.quiet}>Looking …</p>;
  return (
    <>
      <h1>{me.name}</h1>
      <p className={setup.intro}>
        You are {/^[aeiou]/.test(me.role) ? "an" : "a"} {me.role}.
      </p>
      <p className={setup.row}>
        <span className={me.offDuty ? setup.quiet : setup.live}>
          {me.offDuty
            ? `◇ You are off duty${me.offUntil ? ` until ${dayTime(Date.parse(me.offUntil), me.zone, deskNow())} ${zoneName(Date.parse(me.offUntil), me.zone)}` : ""}`
            : "◆ You are on duty in your hours"}
        </span>
        <Button
          onClick={() =>
            me.offDuty
              ? change.mutate({ call: "POST /me/duty", body: { off: false }, said: "You are on duty again." })
              : setLeaving(true)
          }
        >
          {me.offDuty ? "Come back on duty" : "Go off duty"}
        </Button>
      </p>
      {leaving && <DutyDialog person={null} zone={me.zone} onClose={() => setLeaving(false)} />}
      <Reach me={me} />
      <h2>How you hear of things</h2>
      <AlertMatrix personId={me.id} />
      <p className={setup.row}>
        <Browser />
      </p>
      <h2>Your calendar elsewhere</h2>
      <p className={setup.quiet}>
        Booked calls, next steps and tasks, for any calendar program that subscribes to an address. Whoever
        has the address sees them: revoke it where it got about.
      </p>
      <OpenLinks zone={me.zone} />
      <h2>What you may do</h2>
      <ul>
        {(Object.keys(RIGHTS) as Right[])
          .filter((right) => me.rights.includes(right))
          .map((right) => (
            <li key={right}>{RIGHTS[right]}</li>
          ))}
      </ul>
      <details>
        <summary>What each role may do</summary>
        <RolesTable />
      </details>
      <Sessions />
      <Password />
      <p className={setup.row}>
        <SignOut rehearsal={me.rehearsal} />
      </p>
    </>
  );
}

/** Where one is reached: one's own to say. */
function Reach({ me }: { readonly me: Me }) {
  const change = useChange();
  const { draft, put, changed, done } = useEditing("reach", { phone: me.phone, chat: me.chat });
  return (
    <form
      className={setup.ends}
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate({
          call: "POST /me/reach",
          body: draft,
          said: ({ phone }) => (phone ? `You are called at ${readablePhone(phone)}.` : "Nobody calls you."),
          after: done,
        });
      }}
    >
      <Field
        label="Your phone"
        type="tel"
        placeholder="none"
        value={draft.phone}
        onChange={(e) => put({ ...draft, phone: e.target.value })}
      />
      <Field
        label="In the team’s chat"
        placeholder="@name"
        value={draft.chat}
        onChange={(e) => put({ ...draft, chat: e.target.value })}
      />
      <Button type="submit" look="strong" disabled={!changed || change.isPending}>
        Save
      </Button>
    </form>
  );
}

function SignOut({ rehearsal }: { readonly rehearsal: boolean }) {
  const out = async () => {
    await fetch("/api/auth/sign-out", {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: "{}",
    });
    location.assign("/sign-in");
  };
  return <Button onClick={() => void out()}>{rehearsal ? "Be somebody else" : "Sign out"}</Button>;
}

function Sessions() {
  const { data = [], refetch } = useSessions();
  const change = useChange();
  if (data.length === 0) return null;
  const end = (token?: string) =>
    change.mutate({
      call: "POST /me/sessions",
      body: token ? { token } : {},
      said: "Signed out there.",
      after: () => void refetch(),
    });
  return (
    <>
      <h2>Where you are signed in</h2>
      <ul className={setup.trouble}>
        {data.map((s) => (
          <li key={s.token}>
            {s.userAgent ?? "an unknown program"}, {s.ipAddress ?? "unknown address"}, since{" "}
            {new Date(s.createdAt).toLocaleString()}{" "}
            {s.current ? (
              <b>here</b>
            ) : (
              <Button look="bare" onClick={() => end(s.token)}>
                Sign out there
              </Button>
            )}
          </li>
        ))}
      </ul>
      {data.length > 1 && <Button onClick={() => end()}>Sign out everywhere else</Button>}
    </>
  );
}

function Password() {
  const { data = [] } = useSessions();
  const [now, setNow] = useState("");
  const [next, setNext] = useState("");
  const [said, setSaid] = useState<{ ok: boolean; text: string } | null>(null);
  if (data.length === 0) return null;
  const save = async () => {
    const answer = await fetch("/api/auth/change-password", {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ currentPassword: now, newPassword: next, revokeOtherSessions: true }),
    });
    setSaid(
      answer.ok
        ? { ok: true, text: "Changed. Everywhere else you are signed out." }
        : {
            ok: false,
            text:
              next.length < 10
                ? "A password has ten characters at least."
                : "The old password is not right. Nothing was changed.",
          },
    );
    if (answer.ok) {
      setNow("");
      setNext("");
    }
  };
  return (
    <>
      <h2>Password</h2>
      <form
        className={setup.row}
        onSubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        <Field
          label="Old password"
          type="password"
          autoComplete="current-password"
          value={now}
          onChange={(e) => setNow(e.target.value)}
        />
        <Field
          label="New password, ten characters at least"
          type="password"
          autoComplete="new-password"
          value={next}
          onChange={(e) => setNext(e.target.value)}
        />
        <Button type="submit">Change it</Button>
      </form>
      {said && <p className={said.ok ? setup.good : setup.wrong}>{said.text}</p>}
    </>
  );
}
