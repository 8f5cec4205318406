import { useState } from "react";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { Way } from "../../../wire/access-schemas.ts";
import styles from "../Setup.module.css";

const SECURITY = [
  { value: "starttls", label: "STARTTLS, usually on 587" },
  { value: "tls", label: "TLS, usually on 465" },
  { value: "none", label: "none: only within your own walls" },
] as const;
type Security = (typeof SECURITY)[number]["value"];

/** The mail server: where it is, how it is spoken to, and whose account it is. */
export function MailForm({ way }: { readonly way: Way }) {
  const save = useChange();
  const known = way.server;
  const [host, setHost] = useState(known?.host ?? "");
  const [port, setPort] = useState(known?.port ?? 587);
  const [security, setSecurity] = useState<Security>(known?.security ?? "starttls");
  const [user, setUser] = useState(known?.user ?? "");
  const [password, setPassword] = useState<string | null>(known ? null : "");
  return (
    <form
      className={styles.stack}
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate({
          call: "POST /setup/ways",
          body: { way: "email", server: { host, port, security, user, password } },
          said: "Mail leaves by it from now on. Send yourself a test.",
        });
      }}
    >
      <div className={styles.fields}>
        <Field
          label="Server"
          required
          placeholder="smtp.example.com"
          value={host}
          onChange={(e) => setHost(e.target.value)}
        />
        <Field
          label="Port"
          type="number"
          required
          min={1}
          max={65535}
          value={port}
          onChange={(e) => setPort(Number(e.target.value))}
        />
        <Choice
          label="Encryption"
          value={security}
          options={SECURITY}
          onChange={(next) => {
            setSecurity(next);
            if (port === 587 || port === 465) setPort(next === "tls" ? 465 : 587);
          }}
        />
        <Field
          label="Account"
          autoComplete="off"
          placeholder="none"
          value={user}
          onChange={(e) => setUser(e.target.value)}
        />
        <Field
          label="Password"
          type="password"
          autoComplete="new-password"
          placeholder={known ? "as it is" : "none"}
          value={password ?? ""}
          onChange={(e) => setPassword(e.target.value || (known ? null : ""))}
        />
      </div>
      <div className={styles.row}>
        <Button type="submit" look="strong" disabled={save.isPending}>
          {known ? "Change it" : "Let mail out by it"}
        </Button>
        {known && (
          <Button
            look="bare"
            disabled={save.isPending}
            onClick={() =>
              save.mutate({
                call: "POST /setup/ways",
                body: { way: "email", server: null },
                said: "No mail leaves any more. What is written waits.",
              })
            }
          >
            Take it off
          </Button>
        )}
      </div>
    </form>
  );
}
