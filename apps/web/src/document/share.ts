/**
 * `after` with every part that equals that of `before` taken from it: what did not change keeps its identity, and keys
 * their order.
 */
export function sharing<T>(before: unknown, after: T): T {
  if (before === after || typeof before !== 'object' || typeof after !== 'object' || !before || !after) return after;
  if (Array.isArray(before) !== Array.isArray(after)) return after;
  const [old, fresh] = [before as Record<string, unknown>, after as Record<string, unknown>];
  const keys = Object.keys(fresh);
  let same = keys.length === Object.keys(old).length;
  for (const key of keys) {
    fresh[key] = sharing(old[key], fresh[key]);
    if (fresh[key] !== old[key] || !(key in old)) same = false;
  }
  if (same) return before as T;
  if (Array.isArray(after)) return after;
  const order = [...Object.keys(old).filter((key) => key in fresh), ...keys.filter((key) => !(key in old))];
  return Object.fromEntries(order.map((key) => [key, fresh[key]])) as T;
}
