/** Lets the browser save what was made here as a file. */
export function saveFile(name: string, content: Blob) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
