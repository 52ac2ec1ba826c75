/** A line that is chased, with some of its numbers (separated by commas), or any card if there are none. */
export interface Target {
  line: string;
  numbers: string;
}

/** Targets as they stand in an address: "hand; fog:FS1,FS2". */
export function parseTargets(text: string): Target[] {
  return text
    .split(";")
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part) => {
      const [line = "", numbers = ""] = part.split(":");
      return { line: line.trim(), numbers: numbers.trim() };
    });
}

export function writeTargets(targets: readonly Target[]): string {
  return targets
    .filter((target) => target.line)
    .map((target) => (target.numbers ? `${target.line}:${target.numbers}` : target.line))
    .join("; ");
}
