import { join } from "node:path";
import { AdPlatform, startAdPlatform } from "../../standins/ad-platform.ts";
import { type StandinBucket, startBucket } from "../../standins/bucket.ts";
import { startGateway } from "../../standins/gateway.ts";
import { startMailbox } from "../../standins/mailbox.ts";
import { Outside } from "../../standins/outside.ts";
import type { Phones } from "../../standins/phones.ts";
import { chatChannel, textChannel } from "../channels/gateway.ts";
import { smtpChannel } from "../channels/smtp.ts";
import type { MovableClock } from "../clock.ts";
import type { DeskConfig } from "../desk.ts";

export interface Standins {
  readonly outside: Outside;
  readonly platform: AdPlatform;
  /** Addresses of the ad platform, and of the gateway that keeps the carrier's recordings. */
  readonly adsUrl: string;
  readonly gatewayUrl: string;
  readonly phones: Phones;
  readonly bucket: StandinBucket;
  readonly channels: DeskConfig["channels"];
  close(): Promise<void>;
}

/** Start the stand-ins and the real channels towards them. */
export async function startStandins(clock: MovableClock, data: string): Promise<Standins> {
  const outside = new Outside(() => clock.now(), join(data, "outside.jsonl"));
  const platform = new AdPlatform(() => clock.now(), join(data, "ad-platform.json"));
  const [gateway, mailbox, ads, bucket] = await Promise.all([
    startGateway(outside),
    startMailbox(outside),
    startAdPlatform(platform),
    startBucket(),
  ]);
  return {
    outside,
    platform,
    adsUrl: ads.url,
    gatewayUrl: gateway.url,
    phones: gateway.phones,
    bucket,
    channels: {
      email: smtpChannel(mailbox.url),
      text: textChannel(gateway.url),
      chat: chatChannel(gateway.url),
    },
    close: async () => {
      await Promise.all([gateway.close(), mailbox.close(), ads.close(), bucket.close()]);
    },
  };
}
