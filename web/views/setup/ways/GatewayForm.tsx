import { useState } from "react";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { Way } from "../../../wire/access-schemas.ts";
import styles from "../Setup.module.css";

/** A gateway is an address, and no more. */
export function GatewayForm({ way }: { readonly way: Way }) {
  const save = useChange();
  const [url, setUrl] = useState(way.shown ?? "");
  const put = (next: string | null, said: string) =>
    save.mutate({
      call: "POST /setup/ways",
      body: { way: way.way as "text" | "chat", url: next },
      said,
    });
  return (
    <form
      className={styles.ends}
      onSubmit={(event) => {
        event.preventDefault();
        put(url, "It is used from now on. Send yourself a test.");
      }}
    >
      <Field
        label="Address"
        required
        type="url"
        placeholder="https://gateway.example.com"
        help="A key goes before it: https://key@gateway.example.com"
        value={url}
        onChange={(e) => setUrl(e.target.value)}
      />
      <Button type="submit" look="strong" disabled={save.isPending || url === way.shown}>
        Use it
      </Button>
      {way.from !== null && (
        <Button
          look="bare"
          disabled={save.isPending}
          onClick={() => put(null, "Nothing goes by it any more. What is written waits.")}
        >
          Take it off
        </Button>
      )}
    </form>
  );
}
