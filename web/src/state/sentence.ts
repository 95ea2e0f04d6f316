/** What the server says, as a sentence: it begins with a capital and ends with a stop. */
export function sentence(said: string): string {
  return `${said.charAt(0).toUpperCase()}${said.slice(1)}${/[.!?]$/.test(said) ? "" : "."}`;
}
