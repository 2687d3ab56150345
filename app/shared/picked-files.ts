/** The files that were picked in a file field, which is empty afterwards: the same file can be picked again. */
export function pickedFiles(event: Event): File[] {
  const field = event.target as HTMLInputElement;
  const files = [...(field.files ?? [])];
  field.value = '';
  return files;
}
