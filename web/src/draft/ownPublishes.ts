/**
 * What this tab publishes itself. The stream of events tells it of its own changes too, often before the answer is here; it holds
 * what it hears until then, and passes over its own.
 */
let underWay: Promise<unknown> = Promise.resolve();
const mine = new Set<number>();
const gone = new Set<number>();

/** Publishes a draft; the stream holds what it hears until the answer is here. */
export function markPublishing<T>(
  draft: number,
  act: () => Promise<T>,
  numberOf: (answer: T) => number | undefined,
): Promise<T> {
  const answered = act().then((answer) => {
    const number = numberOf(answer);
    if (number !== undefined) {
      mine.add(number);
      gone.add(draft);
    }
    return answer;
  });
  underWay = answered.catch(() => undefined);
  return answered;
}

/** When nothing is being published by this tab. */
export const isStillPublishing = (): Promise<unknown> => underWay;

/** Whether this tab published a draft, so that there is no asking for it any more. */
export const isPublishedHere = (draft: number): boolean => gone.has(draft);

/** Whether this tab published a change itself. */
export const isOwnPublish = (number: number): boolean => mine.has(number);
