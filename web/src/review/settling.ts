import type { Review } from '../api/client';
import { settlingText } from '../draft/impactText';

const MUST: Record<string, string> = {
  refresh: 'people refresh the page',
  'sign-in': 'people sign in again',
  restart: 'people restart the app',
  update: 'people update the program',
  clear: 'people clear what the app has stored',
};

/** When each app will have taken a change in, and what people must do: "Chat: in effect within 15 minutes". */
export const settlingWords = (settling: Review['settling']): string[] =>
  settling.map(
    (s) =>
      `${s.app}: in effect ${settlingText(s.minMinutes, s.maxMinutes)}${s.then ? `, once ${MUST[s.then] ?? s.then}` : ''}`,
  );
