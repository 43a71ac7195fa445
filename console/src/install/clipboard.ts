// Why the browser did not copy, in words for people.
export function whyNotCopied(error: unknown): string {
  if (!navigator.clipboard) return "This page is not on a secure connection, so the browser does not allow copying.";
  return (error as Error).name == "NotAllowedError" ? "The browser did not allow copying." : "The browser could not copy.";
}
