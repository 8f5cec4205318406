import { useState } from "react";
import { GROUP_WAYS } from "../../../../core/policy/people.ts";
import { useInAddress } from "../../../live/address.ts";
import { useMe } from "../../../live/queries.ts";
import { usePeopleSetup } from "../../../live/routing-queries.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import type { FullGroup, FullPerson, PeopleSetup } from "../../../wire/routing-schemas.ts";
import { DutyDialog } from "../../access/DutyDialog.tsx";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { GroupEditor } from "./GroupEditor.tsx";
import styles from "./People.module.css";
import { PersonEditor } from "./PersonEditor.tsx";
import { WeekGrid } from "./WeekGrid.tsx";

/** Who works here: when they are there, what they can have, and in which groups. */
export function PeopleView() {
  return (
    <SetupFrame place="People">
      <People />
    </SetupFrame>
  );
}

type Row = PeopleSetup["people"][number];

const ROLES = {
  coordinator: "Coordinators",
  salesperson: "Salespeople",
  manager: "Managers",
  administrator: "Administrators",
} as const;

const office = (zone: string): FullPerson["hours"] => ({
  zone,
  week: Object.fromEntries([1, 2, 3, 4, 5].map((d) => [d, [["08:00", "17:00"] as [string, string]]])),
});

const somebody = ({ zone, languages, groups }: PeopleSetup): FullPerson => ({
  id: "",
  name: "",
  role: "salesperson",
  email: "",
  phone: "",
  chat: "",
  hours: office(zone),
  absences: [],
  offDuty: false,
  cover: null,
  products: null,
  languages: languages.slice(0, 1).map((l) => l.key),
  territories: null,
  ceiling: null,
  perDay: null,
  // With one group there is no question.
  groups: groups.length === 1 ? [groups[0]!.id] : [],
});

function People() {
  const { data, error } = usePeopleSetup();
  const { data: me } = useMe();
  const [personId, setPerson] = useInAddress("person");
  const [groupId, setGroup] = useInAddress("group");
  const may = me?.rights.includes("people") ?? false;
  if (error) return <p className={setup.wrong}>{error.message}</p>;
  if (!data) return <p className={setup.quiet}>Looking …</p>;
  const person = personId === "new" ? somebody(data) : (data.people.find((p) => p.id === personId) ?? null);
  const group = groupId === "new" ? NEW_GROUP : (data.groups.find((g) => g.id === groupId) ?? null);
  if (person)
    return (
      <PersonEditor
        key={person.id}
        person={person}
        data={data}
        may={may}
        mayGiveRoles={me?.rights.includes("access") ?? false}
        onClose={() => setPerson(null)}
      />
    );
  return (
    <>
      <div className={setup.top}>
        <h1>People</h1>
        {may && (
          <div className={setup.row}>
            <Button onClick={() => setGroup("new")}>New group</Button>
            <Button look="strong" onClick={() => setPerson("new")}>
              New person
            </Button>
          </div>
        )}
      </div>
      <p className={setup.intro}>
        Leads are only offered to people who are on duty. Hours count in each person’s own zone; an absence
        names who covers.
        {!may && " A manager changes this."}
      </p>
      <WeekGrid people={data.people} onOpen={setPerson} />
      {(Object.keys(ROLES) as (keyof typeof ROLES)[]).map((role) => {
        const rows = data.people.filter((p) => p.role === role);
        return rows.length === 0 ? null : (
          <section key={role}>
            <h2>{ROLES[role]}</h2>
            <PeopleTable rows={rows} data={data} may={may} onOpen={setPerson} />
          </section>
        );
      })}
      <h2>Groups</h2>
      <table className={`${setup.table} ${setup.cards}`}>
        <thead>
          <tr>
            <th>Group</th>
            <th>Asked by</th>
            <th>Members</th>
          </tr>
        </thead>
        <tbody>
          {data.groups.map((g) => (
            <tr key={g.id}>
              <td>
                <button type="button" className={setup.open} data-row onClick={() => setGroup(g.id)}>
                  {g.name}
                </button>
              </td>
              <td>{GROUP_WAYS[g.way]}</td>
              <td>
                {g.members
                  .map(({ personId, weight }) => {
                    const name = data.people.find((p) => p.id === personId)?.name ?? "somebody";
                    return g.way === "weighted" ? `${name} ×${weight}` : name;
                  })
                  .join(", ") || "nobody yet"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {group && (
        <GroupEditor key={group.id} group={group} data={data} may={may} onClose={() => setGroup(null)} />
      )}
    </>
  );
}

const NEW_GROUP: FullGroup = { id: "", name: "", way: "rotation", members: [] };

interface TableProps {
  readonly rows: readonly Row[];
  readonly data: PeopleSetup;
  readonly may: boolean;
  readonly onOpen: (id: string) => void;
}

function PeopleTable({ rows, data, may, onOpen }: TableProps) {
  const change = useChange();
  const [leaving, setLeaving] = useState<Row | null>(null);
  const named = (keys: readonly string[] | null, list: PeopleSetup["products"], all: string) =>
    keys === null ? all : keys.map((k) => list.find((x) => x.key === k)?.name ?? k).join(", ");
  return (
    <>
      <table className={`${setup.table} ${setup.cards} ${styles.aligned}`}>
        <thead>
          <tr>
            <th>Name</th>
            <th>Now</th>
            <th>Can have</th>
            <th>Leads</th>
            <th>
              <span className={styles.hidden}>Duty</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((p) => (
            <tr key={p.id}>
              <td>
                <button type="button" className={setup.open} data-row onClick={() => onOpen(p.id)}>
                  {p.name}
                </button>
              </td>
              <td className={p.onDuty ? setup.live : setup.quiet}>
                {p.onDuty ? "◆ on duty" : `◇ ${p.because}`}
                {p.untold && p.role === "salesperson" && (
                  <span className={setup.untold}>▲ {p.untold}. Nothing is offered to them.</span>
                )}
              </td>
              <td className={setup.quiet}>
                {p.role === "salesperson"
                  ? [
                      named(p.products, data.products, "every product"),
                      named(p.languages, data.languages, ""),
                      p.territories && named(p.territories, data.territories, ""),
                    ]
                      .filter(Boolean)
                      .join("; ")
                  : "the desk’s work"}
              </td>
              <td>
                {p.openLeads}
                {p.ceiling !== null && ` of ${p.ceiling}`} open
                {p.perDay !== null && `, ${p.perDay} a day`}
              </td>
              <td>
                {may && (
                  <Button
                    look="bare"
                    aria-label={`${p.offDuty ? "Set on duty" : "Set off duty"}: ${p.name}`}
                    onClick={() =>
                      p.offDuty
                        ? change.mutate({
                            call: "POST /setup/people/[id]/duty",
                            params: { id: p.id },
                            body: { off: false },
                            said: `${p.name} is on duty again.`,
                          })
                        : setLeaving(p)
                    }
                  >
                    {p.offDuty ? "Set on duty" : "Set off duty"}
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {leaving && <DutyDialog person={leaving} zone={leaving.hours.zone} onClose={() => setLeaving(null)} />}
    </>
  );
}
