/** A set with one member more, or with that one less. */
export function toggled<T>(set: Iterable<T>, member: T): ReadonlySet<T> {
  const next = new Set(set);
  if (!next.delete(member)) next.add(member);
  return next;
}
