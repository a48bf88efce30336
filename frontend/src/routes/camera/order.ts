/** The order of the pictures of a block, changed by what one step did to one picture: what others
 * did meanwhile stays. */

export type Order = readonly number[];
export type Change = (order: Order) => number[];

export const without =
  (number: number): Change =>
  (order) =>
    order.filter((one) => one !== number);

/** Put a picture behind another one; before all where that is null, last where it is gone. */
export const behind =
  (number: number, before: number | null): Change =>
  (order) => {
    const rest = without(number)(order);
    if (before === null) return [number, ...rest];
    const at = rest.indexOf(before);
    return at < 0 ? [...rest, number] : rest.toSpliced(at + 1, 0, number);
  };

/** One picture in the place of another; last where that is gone. */
export const instead =
  (number: number, of: number): Change =>
  (order) =>
    order.includes(of)
      ? order.filter((one) => one !== number).map((one) => (one === of ? number : one))
      : behind(number, -1)(order);

/** The picture before one in an order; null for the first. */
export const before = (order: Order, number: number): number | null =>
  order[order.indexOf(number) - 1] ?? null;
