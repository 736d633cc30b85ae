/** Hand a file to the browser's downloads. */
export function download(bytes: Uint8Array | string, name: string): void {
  const blob = new Blob([bytes as BlobPart], { type: "application/octet-stream" });
  const address = URL.createObjectURL(blob);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 10000);
}
