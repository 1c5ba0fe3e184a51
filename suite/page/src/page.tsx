import { createContext, use, type ReactNode } from 'react';
import type { Catalogue, Meant, PageView, Person, Seen, Value } from './api';
import { option, words } from './words';

/** The page that is open: whose it is, and what stands on it. */
export type Open = {
  person: Person;
  view: PageView;
  catalogue: Catalogue;
  /** What the units, groups and people that stand in values are called, by their targets. */
  names: Record<string, string>;
  beside: boolean;
  /** Asks why something is not there, and for it: for a value of it where one is named. */
  onMissing: (key: string, wanted?: Value) => void;
};

export const PageContext = createContext<Open | null>(null);

export function usePage(): Open {
  const page = use(PageContext);
  if (!page) throw new Error('No page is open');
  return page;
}

export type Control = Seen & { meant: Meant | undefined; title: string; inWords: string };

/** A setting as it stands on this page, or in a workspace; nothing where the catalogue has none of this key. */
export function useControl(key: string, among?: Seen[]): Control | undefined {
  const { view, catalogue, names } = usePage();
  const seen = (among ?? view.settings).find((s) => s.key === key);
  const meant = catalogue.settings.find((s) => s.key === key);
  return seen && { ...seen, meant, title: meant?.title ?? key, inWords: words(meant, seen.value, names) };
}

/** What holds a control, so that it can be found. Nothing where it is absent. */
export function Place({ control, children, wide }: { control: Control; children: ReactNode; wide?: boolean }) {
  if (control.shown === 'absent') return null;
  return (
    <span
      data-setting={control.key}
      data-shown={control.shown}
      data-value={JSON.stringify(control.value)}
      className={wide ? 'block' : 'inline-flex flex-wrap items-center gap-x-2'}
    >
      {children}
      {control.shown === 'greyed' && <Notice control={control} />}
    </span>
  );
}

function Notice({ control }: { control: Control }) {
  const { onMissing } = usePage();
  return (
    <small className="text-soft">
      {control.notice ?? 'This is not open to you.'}{' '}
      <button type="button" className="underline" onClick={() => onMissing(control.key)}>
        Why?
      </button>
    </small>
  );
}

/** Something that a person may do: a button where it is there, a grey one with the notice, or nothing. */
export function Ability({
  k,
  children,
  onPress,
  pressed,
  among,
}: {
  k: string;
  children?: ReactNode;
  onPress?: () => void;
  pressed?: boolean;
  among?: Seen[];
}) {
  const control = useControl(k, among);
  if (!control) return null;
  const there = control.shown === 'there';
  return (
    <Place control={control}>
      <button
        type="button"
        className="button"
        aria-disabled={!there}
        aria-pressed={there ? pressed : undefined}
        title={control.meant?.help}
        onClick={() => there && onPress?.()}
      >
        {children ?? control.title}
      </button>
    </Place>
  );
}

/** A value that a person lives with, in a sentence. */
export function Fact({ k, children }: { k: string; children?: (inWords: ReactNode) => ReactNode }) {
  const control = useControl(k);
  if (!control || control.shown === 'absent') return null;
  const value = <strong className="font-semibold">{control.inWords}</strong>;
  return (
    <p className={control.shown === 'greyed' ? 'text-soft mt-1' : 'mt-1'}>
      <Place control={control}>
        <span>
          {children?.(value) ?? (
            <>
              {control.title}: {value}
            </>
          )}
        </span>
      </Place>
    </p>
  );
}

/** A level to choose: those looser than what is in force are grey, and say why. Options stand from the strictest to the loosest. */
export function Level({
  k,
  chosen,
  onChoose,
  label,
}: {
  k: string;
  chosen: string;
  onChoose: (level: string) => void;
  label: string;
}) {
  const control = useControl(k);
  const { onMissing } = usePage();
  if (!control) return null;
  const options = control.meant?.options ?? [];
  const most = control.shown === 'there' ? options.indexOf(typeof control.value === 'string' ? control.value : '') : -1;
  return (
    <Place control={control}>
      <span role="radiogroup" aria-label={label} className="inline-flex flex-wrap gap-1">
        {options.map((o, i) => (
          <button
            key={o}
            type="button"
            role="radio"
            aria-checked={chosen === o && i <= most}
            aria-disabled={i > most}
            title={i > most ? `Your organisation allows “${control.inWords}” at most.` : undefined}
            className={`button ${chosen === o && i <= most ? 'main' : ''}`}
            onClick={() => (i <= most ? onChoose(o) : onMissing(k, o))}
          >
            {option(o)}
          </button>
        ))}
      </span>
      {control.shown === 'there' && most < options.length - 1 && (
        <small className="text-soft">Your organisation allows “{control.inWords}” at most.</small>
      )}
    </Place>
  );
}

/** The settings of an app that no sentence of its page speaks of: what can be done, then what holds. */
export function Rest({ app, spoken }: { app: string; spoken: string[] }) {
  const { catalogue, view } = usePage();
  const rest = catalogue.settings.filter((s) => (s.app ?? '') === app && !spoken.includes(s.key));
  const there = rest.filter((s) => view.settings.some((seen) => seen.key === s.key && seen.shown !== 'absent'));
  if (there.length === 0) return null;
  const abilities = there.filter((s) => (s.type ?? 'switch') === 'switch');
  const facts = there.filter((s) => (s.type ?? 'switch') !== 'switch');
  return (
    <section className="sheet mt-4" aria-label="What else there is">
      {abilities.length > 0 && (
        <div className="flex flex-wrap gap-2">
          {abilities.map((s) => (
            <Ability key={s.key} k={s.key} />
          ))}
        </div>
      )}
      {facts.length > 0 && (
        <div className="mt-2 grid gap-x-8 first:mt-0 sm:grid-cols-2">
          {facts.map((s) => (
            <Fact key={s.key} k={s.key} />
          ))}
        </div>
      )}
    </section>
  );
}
