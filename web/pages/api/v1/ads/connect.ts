import { endpoint } from "../../../../api/endpoint.ts";

/** Where to go to sign in at the ad platform. */
export const POST = endpoint(null, ({ context }) => ({
  url: context.locals.ads.authorizeUrl(`${context.locals.publicUrl}/setup/ads`),
}));
