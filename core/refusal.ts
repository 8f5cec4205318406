/** Why something asked for cannot be done, for the person who asked. Programs decide by `code`; the words are free. `status` is that of HTTP. */
export interface Problem {
  readonly code: string;
  readonly status: 403 | 404 | 409 | 422;
  readonly title: string;
  readonly detail: string;
  readonly errors?: readonly { readonly path: string; readonly message: string }[];
}

export type Refused = { readonly ok: false; readonly problem: Problem };

/** Refuse, with a sentence that says what to do instead. */
export function refuse(
  code: string,
  status: Problem["status"],
  title: string,
  detail: string,
  path?: string,
): Refused {
  return {
    ok: false,
    problem: { code, status, title, detail, ...(path && { errors: [{ path, message: detail }] }) },
  };
}
