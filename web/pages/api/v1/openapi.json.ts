import type { APIRoute } from "astro";
import { json } from "../../../api/endpoint.ts";
import { openApi } from "../../../calls/openapi.ts";

export const GET: APIRoute = () => json(openApi());
