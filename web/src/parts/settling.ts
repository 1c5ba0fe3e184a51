import { useQuery } from '@tanstack/react-query';
import { unwrap, api, type Schemas } from '../api/client';
import { clock } from '../text/clock';

const SOON = 1000;
const LATE = 600_000;

export type SettlingChange = Schemas['SettlingChange'];

/** In how many milliseconds something will be told otherwise; false where nothing is on its way. */
export function nextLook(told: { from: string | null; until: string | null } | undefined, now: number): number | false {
  const to = [told?.from, told?.until].map((t) => (t ? Date.parse(t) - now : 0)).filter((t) => t > 0);
  return to.length === 0 ? false : Math.min(LATE, Math.max(SOON, Math.min(...to) + SOON));
}

/** The changes that are still on their way to somebody's screen: all of them, or those of a policy. */
export const useSettlingChanges = (policy?: string) =>
  useQuery({
    queryKey: ['settling changes', policy],
    queryFn: () => unwrap(api.GET('/api/v1/settling/changes', { params: { query: { policy } } })),
    // They arrive by themselves; it is asked again when the next of them has.
    refetchInterval: ({ state }) => {
      const looks = (state.data?.changes ?? []).map((c) => nextLook(c, clock().getTime())).filter((l) => l !== false);
      return looks.length > 0 && Math.min(...looks);
    },
  });
