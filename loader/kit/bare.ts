// A host's name without the "www." that people ignore; the same as in internal/cue.
export const bare = (name: string) => name.replace(/^www\./, "");
