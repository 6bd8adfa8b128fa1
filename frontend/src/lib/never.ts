/** The end of a choice that leaves nothing out: the type checker refuses it where something is. */
export function never(value: never): never {
  throw new Error(`“${String(value)}” is unknown here.`);
}
