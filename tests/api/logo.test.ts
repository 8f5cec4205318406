import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";

/** The company's logo: the one file that strangers may have. */

const { server, api } = rehearsal();

const PNG = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
  "base64",
);
async function upload(name: string, type: string, bytes: Buffer) {
  const response = await fetch(`${server().origin}/api/v1/files?name=${name}`, {
    method: "POST",
    headers: { authorization: "Bearer rehearsal", "content-type": type },
    body: new Uint8Array(bytes),
  });
  return (await response.json()) as { fileId: string; name: string; type: string; size: number };
}
const put = async (logo: object | null) => {
  const { company, sites, teamChat } = (await api.get("/setup/company")).body;
  return api.post("/setup/company", { company: { ...company, logo }, sites, teamChat });
};
const asStranger = (id: string) => fetch(`${server().origin}/logo/${id}`);

describe("the company’s logo", () => {
  it("is everybody’s while it is the logo, and nobody’s before and after", async () => {
    const file = await upload("sign.png", "image/png", PNG);
    expect((await asStranger(file.fileId)).status).toBe(404);
    expect((await put(file)).status).toBe(200);
    const shown = await asStranger(file.fileId);
    expect([shown.status, shown.headers.get("content-type")]).toEqual([200, "image/png"]);
    expect(Buffer.from(await shown.arrayBuffer()).equals(PNG)).toBe(true);
    const form = await (await fetch(`${server().origin}/f/plan-your-sauna`)).text();
    expect(form).toContain(`/logo/${file.fileId}`);
    expect((await put(null)).status).toBe(200);
    expect((await asStranger(file.fileId)).status).toBe(404);
  });
  it("is a picture of a kind that runs nothing, and not a large one", async () => {
    const page = await upload("sign.svg", "image/svg+xml", Buffer.from("<svg/>"));
    expect(await put(page)).toMatchObject({ status: 422, body: { errors: [{ path: "company.logo" }] } });
    const heavy = { fileId: "f", name: "big.png", type: "image/png", size: 500_001 };
    expect((await put(heavy)).status).toBe(422);
  });
  it("named as a file that is no picture, whatever is claimed of it, is shown to nobody", async () => {
    const page = await upload("page.html", "text/html", Buffer.from("<script>1</script>"));
    await put({ ...page, type: "image/png", name: "sign.png" });
    expect((await asStranger(page.fileId)).status).toBe(404);
    await put(null);
  });
  it("is on every mail, with the company’s name for whoever sees no pictures", async () => {
    const file = await upload("sign.png", "image/png", PNG);
    await put(file);
    const { body } = await api.post("/leads", {
      facts: { name: "Lou Logo", email: "lou.logo@example.com" },
      route: false,
    });
    const sent = {
      personId: "p_ines",
      channel: "email",
      subject: "Hello",
      body: "Hello **Lou**.",
      anyway: true,
    };
    expect((await api.post(`/leads/${body.id}/messages`, sent)).status).toBeLessThan(300);
    await api.post("/rehearsal/clock", { advance: "PT11S" });
    const mails = (await api.get("/rehearsal/outside?channel=email")).body.items as {
      to: string;
      html?: string;
      body: string;
    }[];
    const mail = mails.find((m) => m.to === "lou.logo@example.com");
    expect(mail?.html).toContain(`/logo/${file.fileId}" alt="Tarnholt Bathworks"`);
    expect(mail?.html).toContain("<strong>Lou</strong>");
    expect(mail?.body).toBe("Hello Lou.");
    await put(null);
  });
});
