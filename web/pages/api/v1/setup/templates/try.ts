import { endpoint } from "../../../../../api/endpoint.ts";
import { TryTemplate } from "../../../../../wire/answering-schemas.ts";
import { tryTemplate } from "../../../../../wire/shape-answering.ts";

export const POST = endpoint(TryTemplate, ({ desk, me, body }) => tryTemplate(desk, me, body));
