import { problem, serve } from "../../../../api/endpoint.ts";

/** Say where the ad platform is; what is said when Kite Bell is started goes before it. */
export const POST = serve("POST /ads/platform", ({ desk, me, body, context }) => {
  const { ads } = context.locals;
  const url = body.url?.trim().replace(/\/$/, "") || null;
  if (url && (!URL.canParse(url) || !/^https?:$/.test(new URL(url).protocol))) {
    const said = "Write it with its protocol, as https://ads.example.com.";
    return problem("not-an-address", 422, "Not an address", said, [{ path: "url", message: said }]);
  }
  ads.setAddress(url);
  desk.office.audit(me.id, url ? "set up the ad platform" : "took the ad platform off");
  return {};
});
