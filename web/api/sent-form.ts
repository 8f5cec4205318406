/** The form that was sent; an empty one when what was sent is none: then every field is missing, and is said to be. */
export async function sentForm(request: Request): Promise<FormData> {
  try {
    return await request.formData();
  } catch {
    return new FormData();
  }
}
