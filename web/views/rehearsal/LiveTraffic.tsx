import { useQuery, useQueryClient } from "@tanstack/react-query";
import { call } from "../../live/api.ts";
import { Choice } from "../../ui/Choice.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import styles from "./Rehearsal.module.css";

const RATES = [
  { value: "0", label: "off" },
  { value: "2", label: "about two inquiries a minute" },
  { value: "6", label: "about six a minute" },
  { value: "20", label: "about twenty a minute" },
];
/** How often is looked how it goes (ms). */
const LOOK = 2_000;

/** The day goes on by itself: people inquire, and ours take, pass, call and forget. */
export function LiveTraffic() {
  const client = useQueryClient();
  const say = useSay();
  const { data } = useQuery({
    queryKey: ["traffic"],
    queryFn: () => call("GET /rehearsal/traffic"),
    refetchInterval: (query) => (query.state.data?.perMinute ? LOOK : false),
  });
  const set = async (perMinute: number) => {
    // An answer still on its way would put back what was there before.
    await client.cancelQueries({ queryKey: ["traffic"] });
    try {
      client.setQueryData(["traffic"], await call("POST /rehearsal/traffic", { body: { perMinute } }));
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
  const value = String(data?.perMinute ?? 0);
  const options = RATES.some((r) => r.value === value)
    ? RATES
    : [...RATES, { value, label: `${value} a minute` }];
  return (
    <section className={styles.traffic} aria-label="Live traffic">
      <Choice
        label="Live traffic"
        value={value}
        options={options}
        onChange={(rate) => void set(Number(rate))}
      />
      {data && data.arrived > 0 && (
        <p role="status">
          {data.arrived} came in, {data.took} taken, {data.passed} passed, {data.forgot} forgotten,{" "}
          {data.called} called, {data.wroteBack} wrote back.
        </p>
      )}
    </section>
  );
}
