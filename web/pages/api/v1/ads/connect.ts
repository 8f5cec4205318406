import { problem, serve } from "../../../../api/endpoint.ts";

/** Where to go to sign in at the ad platform; where none is set up, which setting is missing. */
export const POST = serve("POST /ads/connect", ({ context }) => {
  const { ads, publicUrl } = context.locals;
  const missing = ads.missing;
  return missing
    ? problem("not-set-up", 409, "Not set up", missing)
    : { url: ads.authorizeUrl(`${publicUrl}/setup/ads`) };
});
