import { useState } from "react";
import { dateTime } from "../../../core/time/words.ts";
import { useOpenLinks } from "../../live/access-queries.ts";
import { deskNow } from "../../live/clock.ts";
import { useChange } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Copy } from "../../ui/Copy.tsx";
import setup from "../setup/Setup.module.css";

interface Props {
  readonly zone: string;
  /** Those to this list alone, and a new one to it; to one's calendar when left out. */
  readonly listId?: string;
}

/** Secret links of one's own: made, copied the once they are shown, and revoked. */
export function OpenLinks({ zone, listId }: Props) {
  const { data = [] } = useOpenLinks();
  const change = useChange();
  const [made, setMade] = useState<string | null>(null);
  const own = data.filter((link) => (listId ? link.list?.id === listId : link.kind === "calendar"));
  const after = ({ url }: { readonly url: string }) => setMade(url);
  return (
    <>
      {own.length > 0 && (
        <ul>
          {own.map((link) => (
            <li key={link.id}>
              {link.format ? `${link.format.toUpperCase()}, made` : "Made"}{" "}
              {dateTime(Date.parse(link.at), zone, deskNow())},{" "}
              {link.lastUsedAt
                ? `fetched last ${dateTime(Date.parse(link.lastUsedAt), zone, deskNow())}`
                : "not fetched yet"}{" "}
              <Button
                look="bare"
                onClick={() => {
                  setMade(null);
                  change.mutate({
                    call: "POST /me/links/[id]/revoke",
                    params: { id: link.id },
                    said: "It opens nothing any more.",
                  });
                }}
              >
                Revoke
              </Button>
            </li>
          ))}
        </ul>
      )}
      {made && (
        <p role="status" className={setup.live}>
          Shown this once: <Copy text={made} label="Copy the link" />
        </p>
      )}
      <p className={setup.row}>
        {listId ? (
          (["csv", "json"] as const).map((format) => (
            <Button
              key={format}
              disabled={change.isPending}
              onClick={() =>
                change.mutate({
                  call: "POST /lists/[id]/links",
                  params: { id: listId },
                  body: { format },
                  said: "",
                  after,
                })
              }
            >
              Make a link to it as {format.toUpperCase()}
            </Button>
          ))
        ) : (
          <Button
            disabled={change.isPending}
            onClick={() => change.mutate({ call: "POST /me/calendar", said: "", after })}
          >
            Make a link to my calendar
          </Button>
        )}
      </p>
    </>
  );
}
