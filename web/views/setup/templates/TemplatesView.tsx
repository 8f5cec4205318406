import { useInAddress } from "../../../live/address.ts";
import { useTemplates } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import type { Template, TemplateRow } from "../../../wire/answering-schemas.ts";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { TemplateEditor } from "./TemplateEditor.tsx";

/** Every template with where it is used and how it does; one of them open to be written. */
export function TemplatesView() {
  return (
    <SetupFrame place="Templates">
      <Templates />
    </SetupFrame>
  );
}

const percent = (share: number) => `${Math.round(share * 100)} %`;

/** How often a reply came within a day, with what that figure can be trusted for. */
function Replied({ row }: { readonly row: TemplateRow }) {
  if (row.sent === 0) return <span className={styles.quiet}>not sent yet</span>;
  return (
    <>
      {row.replied} of {row.sent}{" "}
      <span className={styles.quiet}>
        ({percent(row.low)} to {percent(row.high)})
      </span>
    </>
  );
}

function Templates() {
  const { data, error } = useTemplates();
  const [openId, setOpenId] = useInAddress("template");
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!data) return <p className={styles.quiet}>Looking …</p>;
  const row = data.items.find((t) => t.id === openId);
  const open = row ? plain(row) : openId === "new-email" || openId === "new-text" ? blank(openId) : null;
  if (open)
    return <TemplateEditor key={open.id} template={open} setup={data} onClose={() => setOpenId(null)} />;
  const begin = (channel: "email" | "text") => setOpenId(`new-${channel}`);
  return (
    <>
      <div className={styles.top}>
        <h1>Templates</h1>
        <div className={styles.row}>
          <Button onClick={() => begin("text")}>New text</Button>
          <Button look="strong" onClick={() => begin("email")}>
            New email
          </Button>
        </div>
      </div>
      <p className={styles.intro}>
        What is sent more than once. Fields in double braces are filled in for each lead; what a template says
        when a field is empty is up to you.
      </p>
      {data.items.length === 0 && (
        <Empty title="No template yet">
          Write the first one: the reply to a new inquiry is a good beginning.
        </Empty>
      )}
      <table className={`${styles.table} ${styles.cards}`}>
        <thead>
          <tr>
            <th>Template</th>
            <th>Channel</th>
            <th>Languages</th>
            <th>Used for</th>
            <th>Replied within a day, 90 days back</th>
          </tr>
        </thead>
        <tbody>
          {data.items.map((row) => (
            <tr key={row.id}>
              <td>
                <button type="button" className={styles.open} data-row onClick={() => setOpenId(row.id)}>
                  {row.name}
                </button>
              </td>
              <td>{row.channel}</td>
              <td>{Object.keys(row.texts).join(", ")}</td>
              <td className={styles.quiet}>{row.uses.join("; ") || "by hand"}</td>
              <td>
                <Replied row={row} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

const plain = ({ id, name, channel, texts, attachments }: TemplateRow): Template => ({
  id,
  name,
  channel,
  texts,
  ...(attachments && { attachments }),
});

function blank(which: "new-email" | "new-text"): Template {
  const channel = which === "new-email" ? "email" : "text";
  return {
    id: "",
    name: "",
    channel,
    texts: { en: { ...(channel === "email" && { subject: "" }), body: "" } },
  };
}
