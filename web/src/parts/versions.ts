const names = new Intl.DisplayNames(["en"], { type: "language", fallback: "none" });

/** What a version is called: a language by its name, anything else as it is. */
export function versionSaid(version: string): string {
  try {
    return names.of(version) ?? version;
  } catch {
    return version;
  }
}
