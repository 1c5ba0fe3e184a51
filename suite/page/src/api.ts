/** What the suite's server answers, and how it is asked. */

export type Picture = { sha256: string; media: string; alt: string };
export type Value = boolean | number | string | string[] | Picture | null;
export type Deed = 'refresh' | 'sign-in' | 'restart' | 'update' | 'clear';

export type Seen = {
  key: string;
  value: Value;
  shown: 'there' | 'greyed' | 'absent';
  notice: string | null;
  waitsFor: Deed | null;
};

export type PageView = {
  page: string;
  account: string;
  clock: string;
  ahead: boolean;
  done: Record<Deed, string>;
  settings: Seen[];
};

export type Meant = {
  key: string;
  app?: string;
  title: string;
  help?: string;
  type?: 'switch' | 'choice' | 'number' | 'text' | 'link' | 'list' | 'people' | 'picture';
  unit?: string;
  options?: string[];
  ordered?: boolean;
  default: Value | { follow: string };
};

export type Catalogue = { apps: { id: string; name: string }[]; settings: Meant[] };
export type Person = {
  id: string;
  name: string;
  kind: string;
  title: string | null;
  unit: string;
  workspaces: { id: string; name: string }[];
};
export type Found = { id: string; name: string; unit: string };
export type Line = { from: string; at: string; text: string };
export type Talk = { with: string; name: string; open: boolean; lines: Line[] };

export type OwnRelease = {
  setting: string;
  title: string;
  app: string | null;
  state: 'come' | 'asks' | 'coming';
  at: string | null;
  planned: boolean;
  preview: boolean;
  oneByOne: boolean;
  terms: Terms | null;
  alone: string | null;
  note: string | null;
  guide: string | null;
  devices: string[];
  feedbackUntil: string | null;
};

export type Terms = { version: number; text: string };

export type OwnRing = {
  id: string;
  name: string;
  track: string | null;
  asksConsent: boolean;
  terms: Terms | null;
  consented: string | null;
  asked: string | null;
  declined: string | null;
};

export type Coming = {
  rings: OwnRing[];
  releases: OwnRelease[];
};

export type OwnRequest = {
  id: number;
  setting: string;
  title: string;
  state: 'open' | 'granted' | 'declined' | 'closed';
  words: string;
};

/** What went wrong, as a sentence. */
export class Trouble extends Error {}

async function answer<T>(response: Response): Promise<T> {
  const body = (await response.json().catch(() => ({}))) as T & { detail?: string };
  if (!response.ok) throw new Trouble(body.detail ?? 'The suite does not answer at the moment.');
  return body;
}

function away(): never {
  throw new Trouble('The suite does not answer at the moment. What you see stays as it is.');
}

export const get = async <T>(path: string): Promise<T> => answer<T>(await fetch(`/api/${path}`).catch(away));

export const post = async <T>(path: string, body: unknown): Promise<T> =>
  answer<T>(
    await fetch(`/api/${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    }).catch(away),
  );
