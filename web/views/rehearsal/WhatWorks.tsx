import { useQuery, useQueryClient } from "@tanstack/react-query";
import { call } from "../../live/api.ts";
import { useSay } from "../../ui/Toasts.tsx";
import styles from "./Rehearsal.module.css";

const PARTS = [
  { channel: "email", name: "Mailboxes" },
  { channel: "text", name: "Phones" },
  { channel: "chat", name: "Team chat" },
] as const;

/** Which parts of the world outside answer: taking one down shows what the desk does meanwhile. */
export function WhatWorks() {
  const client = useQueryClient();
  const say = useSay();
  const { data } = useQuery({
    queryKey: ["down"],
    queryFn: () => call("GET /rehearsal/down"),
  });
  const set = async (channel: (typeof PARTS)[number]["channel"], down: boolean) => {
    // An answer still on its way would put back what was there before.
    await client.cancelQueries({ queryKey: ["down"] });
    const others = data?.down.filter((c) => c !== channel) ?? [];
    client.setQueryData(["down"], { down: down ? [...others, channel] : others });
    try {
      await call("POST /rehearsal/down", { body: { channel, down } });
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
    void client.invalidateQueries({ queryKey: ["down"] });
  };
  return (
    <fieldset className={styles.works}>
      <legend>What works outside</legend>
      {PARTS.map(({ channel, name }) => (
        <label key={channel}>
          <input
            type="checkbox"
            checked={!data?.down.includes(channel)}
            onChange={(e) => void set(channel, !e.target.checked)}
          />{" "}
          {name}
        </label>
      ))}
    </fieldset>
  );
}
