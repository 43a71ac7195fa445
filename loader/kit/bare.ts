// A host's name without the "www." that people take for nothing; the same as internal/cue.
export const bare = (name: string) => name.replace(/^www\./, "");
