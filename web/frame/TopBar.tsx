import { Keyboard, Menu as MenuIcon, Moon, Sun, UserRound, Volume2, VolumeX } from "lucide-react";
import { useState } from "react";
import { clockTime, dayTime, duration, zoneName } from "../../core/time/words.ts";
import { call } from "../live/api.ts";
import { useNow } from "../live/clock.ts";
import { useAsked, useMe, usePeople, useQueue } from "../live/queries.ts";
import { setSound, soundOn } from "../live/sound.ts";
import { Button } from "../ui/Button.tsx";
import { Choice } from "../ui/Choice.tsx";
import { Dialog } from "../ui/Dialog.tsx";
import { Tooltip } from "../ui/Tooltip.tsx";
import { PinnedLinks, PinnedLists } from "./PinnedLists.tsx";
import { maySee, VIEWS } from "./places.ts";
import { Search } from "./Search.tsx";
import styles from "./TopBar.module.css";

interface Props {
  readonly view: string;
  readonly onOpenLead: (id: string) => void;
  readonly onNew: (() => void) | undefined;
  readonly onKeys: () => void;
}

/** The bar on top of every view: where one is, search, how the desk stands, who one is. */
export function TopBar({ view, onOpenLead, onNew, onKeys }: Props) {
  const { data: me } = useMe();
  const [menu, setMenu] = useState(false);
  const views = VIEWS.filter((place) => maySee(place, me));
  return (
    <header className={styles.bar}>
      <a href="/" className={styles.mark} aria-label="Kite Bell">
        <svg viewBox="0 0 32 32" aria-hidden="true">
          <path d="M16 2 27 13 16 24 5 13Z" />
          <path d="M16 24q-4 3 0 6" />
        </svg>
        <span>Kite Bell</span>
      </a>
      <nav className={styles.views} aria-label="Views">
        {views.map(({ name, href, tucked }) => (
          <a
            key={name}
            href={href}
            aria-current={name === view ? "page" : undefined}
            // On a phone these stand in the menu, except the one that lies open.
            data-tucked={(tucked && name !== view) || undefined}
          >
            {name}
          </a>
        ))}
        {!!me?.firstSteps && (
          <a href="/setup/first-steps" className={styles.waits}>
            ▲ {me.firstSteps === 1 ? "One first step left" : `${me.firstSteps} first steps left`}
          </a>
        )}
        <MineToAnswer />
        {me?.draftWaits && (
          <a href="/setup/routing" className={styles.waits}>
            ▲ A draft waits
          </a>
        )}
        {me?.rights.includes("leads") && (
          <span className={styles.lists}>
            <PinnedLists />
          </span>
        )}
        <button type="button" className={styles.menu} aria-haspopup="dialog" onClick={() => setMenu(true)}>
          <MenuIcon size={20} aria-hidden="true" />
          <span>Menu</span>
        </button>
      </nav>
      <Search onOpen={onOpenLead} onNew={onNew} onKeys={onKeys} />
      {onNew && (
        <Button shortcut="N" hint="Write down an inquiry" onClick={onNew} className={styles.new ?? ""}>
          New
        </Button>
      )}
      <Hours />
      <Tooltip text="All keys">
        <button type="button" className={styles.icon} aria-label="All keys" onClick={onKeys}>
          <Keyboard size={18} />
        </button>
      </Tooltip>
      <Switches />
      <Myself />
      {menu && (
        <Dialog title="Menu" onClose={() => setMenu(false)}>
          <div className={styles.sheet}>
            <Hours />
            <nav className={styles.links} aria-label="More views">
              {views.map(({ name, href }) => (
                <a key={name} href={href} aria-current={name === view ? "page" : undefined}>
                  {name}
                </a>
              ))}
              {me?.rights.includes("leads") && <PinnedLinks />}
              <MineToAnswer />
              <a href="/account">Account{me?.offDuty ? ", ◇ off duty" : ""}</a>
            </nav>
            <p className={styles.row}>
              <Switches />
            </p>
            <Myself />
          </div>
        </Dialog>
      )}
    </header>
  );
}

/** What colleagues have asked in notes, and wait for. */
function MineToAnswer() {
  const { data } = useAsked();
  const first = data?.items[0];
  if (!first || !data) return null;
  const n = data.items.length;
  return (
    <a
      href={`/?lead=${first.leadId}`}
      className={styles.waits}
      aria-label={`${n} to answer`}
      title={`${first.by} asks: ${first.text}`}
    >
      ◆ {n} <span>to answer</span>
    </a>
  );
}

/** Sound and theme. */
function Switches() {
  const [sound, hear] = useState(soundOn);
  const [dark, darken] = useState(() => document.documentElement.dataset.theme === "dark");
  const toggleTheme = () => {
    const theme = dark ? "light" : "dark";
    document.documentElement.dataset.theme = theme;
    localStorage.setItem("kb_theme", theme);
    darken(!dark);
  };
  return (
    <>
      <Tooltip text={sound ? "Sound is on" : "Sound is off"}>
        <button
          type="button"
          className={styles.icon}
          aria-pressed={sound}
          aria-label="Sound on arrival and when a lead rings"
          onClick={() => {
            setSound(!sound);
            hear(!sound);
          }}
        >
          {sound ? <Volume2 size={18} /> : <VolumeX size={18} />}
        </button>
      </Tooltip>
      <button
        type="button"
        className={styles.icon}
        aria-label={dark ? "Light theme" : "Dark theme"}
        onClick={toggleTheme}
      >
        {dark ? <Sun size={18} /> : <Moon size={18} />}
      </button>
    </>
  );
}

function Hours() {
  const now = useNow();
  const { data: queue } = useQueue();
  if (!queue) return <span className={styles.hours} />;
  const until = queue.desk.until ? Date.parse(queue.desk.until) : null;
  const left =
    queue.desk.open && until
      ? `open, ${duration(Math.floor((until - now) / 60_000) * 60_000)} left`
      : until
        ? `closed, opens ${dayTime(until, queue.zone, now)}`
        : "closed";
  const names = queue.onDuty.map((p) => p.name).join(", ");
  return (
    <div className={styles.hours} data-open={queue.desk.open || undefined}>
      <span className={styles.time}>
        {clockTime(now, queue.zone)} <small>{zoneName(now, queue.zone)}</small>
      </span>
      <span className={styles.stands}>{left}</span>
      <Tooltip text={names ? `On duty: ${names}` : "Nobody who sells is on duty."}>
        <button type="button" className={styles.duty}>
          {queue.onDuty.length} on duty
        </button>
      </Tooltip>
    </div>
  );
}

function Myself() {
  const { data: me } = useMe();
  const { data: people } = usePeople();
  if (!me) return null;
  const account = (
    <a href="/account" className={styles.account} aria-label={me.rehearsal ? "Account" : undefined}>
      {me.offDuty ? "◇ off duty" : me.rehearsal ? <UserRound size={18} aria-hidden="true" /> : me.name}
    </a>
  );
  if (!me.rehearsal || !people) return <span className={styles.me}>{account}</span>;
  const become = async (personId: string) => {
    await call("POST /rehearsal/me", { body: { personId } });
    location.reload();
  };
  return (
    <div className={styles.me}>
      <Choice
        label="Who you are in this rehearsal"
        quiet
        value={me.id}
        options={people.map((p) => ({
          value: p.id,
          label: p.name,
          group: p.role[0]!.toUpperCase() + p.role.slice(1),
        }))}
        onChange={(id) => void become(id)}
      />
      {account}
    </div>
  );
}
