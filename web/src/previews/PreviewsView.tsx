import { clsx } from 'clsx';
import { usePageTitle } from '../parts/usePageTitle';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { type Edit, type Session, type Setting } from '../api/client';
import { useCatalogue } from '../parts/queries';
import { EntityPicker } from '../parts/EntityPicker';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useQuestion, writeQuestion } from '../question/question';
import { ArrangeRings } from './ArrangeRings';
import { Arrivals } from './Arrivals';
import { RingLanes } from './RingLanes';
import { ReleaseSheet } from './ReleaseSheet';
import { RingSheet } from './RingSheet';
import { usePreviews, type Previews } from './queries';
import { inDays } from '../text/dates';
import { useAddressState } from '../parts/useAddressState';
import { useStaging } from '../parts/useStaging';

/** Preview rings as lanes, releases moving through them, and what is better known beforehand; what is open stands beside. */
export function PreviewsView({ session }: { session?: Session }) {
  const [question] = useQuestion();
  const [track, setTrack] = useAddressState<string>('track', '');
  const previews = usePreviews(question, track || undefined);
  const { kind, id } = useParams();
  const navigate = useNavigate();
  const [edit, refusal] = useStaging('');
  const catalogue = useCatalogue();
  const [arranging, setArranging] = useState(false);
  const zone = session?.organisation?.timeZone ?? 'UTC';
  const open = (next?: 'release' | 'ring', of?: string) => {
    const query = new URLSearchParams(writeQuestion(question));
    if (track) query.set('track', track);
    const text = query.toString().replaceAll('%3A', ':');
    void navigate(`/previews${next && of ? `/${next}/${encodeURIComponent(of)}` : ''}${text ? `?${text}` : ''}`);
  };
  usePageTitle('Previews');
  if (previews.isError && !previews.data)
    return <ErrorNotice error={previews.error} onRetry={() => void previews.refetch()} />;
  if (!previews.data) return <p className="text-ink2 p-6">Looking…</p>;
  const { rings, releases, warnings, tracks } = previews.data;
  const sheet = id !== undefined && (kind === 'release' || kind === 'ring');
  const ring = rings.find((r) => r.id === id);
  return (
    <div className="flex h-full min-h-0">
      <section
        aria-label="Previews"
        className={clsx('min-w-0 flex-1 overflow-y-auto px-5 pt-4 pb-8', sheet && 'max-[1023px]:hidden')}
      >
        <div className="flex flex-wrap items-center gap-3">
          <h1 className="font-display text-[20px] font-semibold">{headline(previews.data, zone)}</h1>
          {rings.length > 0 && (
            <button className="quiet ml-auto" aria-expanded={arranging} onClick={() => setArranging(!arranging)}>
              Arrange the rings
            </button>
          )}
          {rings.length > 0 && (
            <div className="w-64">
              <EntityPicker
                label="Add a release to a setting"
                placeholder="Add a release: find its setting"
                kinds="setting"
                refuse={(hit) =>
                  releases.some((r) => r.setting === hit.id)
                    ? 'It has a release already'
                    : waits(catalogue.data?.settings.find((s) => s.key === hit.id))
                      ? undefined
                      : 'It needs no release: it works for everyone already'
                }
                onPick={(hit) =>
                  void edit([
                    { kind: 'add-release', release: { setting: hit.id, opens: {}, ...(track ? { track } : {}) } },
                  ]).then((done) => done && open('release', hit.id))
                }
              />
            </div>
          )}
        </div>
        {tracks.length > 0 && (
          <div role="group" aria-label="Preview track" className="mt-1 flex flex-wrap gap-x-4">
            {[{ id: '', name: 'For everyone' }, ...tracks].map((t) => (
              <button
                key={t.id}
                aria-pressed={t.id === track}
                className={clsx(
                  'font-display py-1 text-[16px]',
                  t.id === track ? 'border-ink border-b-2 font-semibold' : 'text-ink2 hover:text-ink',
                )}
                onClick={() => {
                  setArranging(false);
                  setTrack(t.id);
                }}
              >
                {t.name}
              </button>
            ))}
          </div>
        )}
        {refusal}
        {(arranging || rings.length === 0) && (
          <>
            {rings.length === 0 && (
              <p className="mt-3 max-w-xl">
                There is no preview ring yet. Rings say who tries what early, from a few testers outward to everyone.
                Name the first, and put people into it afterwards.
              </p>
            )}
            <ArrangeRings
              key={rings.map((r) => `${r.id} ${r.name} ${String(r.asksConsent)}`).join()}
              rings={rings}
              track={track ? { id: track, all: tracks.map((t) => t.written) } : undefined}
              onEdit={edit}
              onClose={() => setArranging(false)}
            />
          </>
        )}
        {rings.length > 0 && (
          <div className="mt-3">
            <RingLanes
              previews={previews.data}
              zone={zone}
              release={kind === 'release' ? id : undefined}
              ring={kind === 'ring' ? id : undefined}
              onRelease={(setting) => open('release', setting)}
              onRing={(of) => open('ring', of)}
            />
            <Warnings warnings={warnings} onEdit={edit} onOpen={open} />
            <Arrivals rings={rings} track={track} onOpen={(setting) => open('release', setting)} />
          </div>
        )}
      </section>
      {sheet && kind === 'release' && (
        <ReleaseSheet
          key={id}
          setting={id}
          rings={rings}
          zone={zone}
          now={Date.parse(previews.data.at)}
          onEdit={edit}
          onClose={() => open()}
        />
      )}
      {sheet && kind === 'ring' && ring && (
        <RingSheet key={id} ring={ring} zone={zone} by={session?.author ?? ''} onEdit={edit} onClose={() => open()} />
      )}
    </div>
  );
}

/** What the person came for, in a sentence. */
export function headline(previews: Previews, zone: string): string {
  const now = Date.parse(previews.at);
  const next = previews.releases
    .flatMap((r) => r.openings.filter((o) => !o.planned && Date.parse(o.at) > now).map((o) => ({ r, o })))
    .sort((a, b) => Date.parse(a.o.at) - Date.parse(b.o.at))[0];
  if (!next) return previews.releases.length === 0 ? 'Nothing is released yet' : 'Nothing more opens by itself';
  const ring = previews.rings.find((r) => r.id === next.o.ring)?.name ?? next.o.ring;
  return `Next: ${next.r.title} opens to ${ring} ${inDays(next.o.at, zone, new Date(now))}`;
}

function Warnings(props: {
  warnings: Previews['warnings'];
  onEdit: (edits: Edit[]) => Promise<boolean>;
  onOpen: (kind: 'release' | 'ring', id: string) => void;
}) {
  if (props.warnings.length === 0) return null;
  return (
    <section aria-label="Check before you start">
      <h2 className="font-display mt-6 text-[16px] font-semibold">Check before you start</h2>
      <ul className="border-line mt-1 border-t">
        {props.warnings.map((w) => (
          <li key={w.words} className="border-line flex items-center gap-3 border-b py-1">
            <button
              className="min-w-0 flex-1 text-left hover:underline"
              onClick={() =>
                w.setting !== null ? props.onOpen('release', w.setting) : w.ring && props.onOpen('ring', w.ring)
              }
            >
              {w.words}.
            </button>
            {w.edit !== null && (
              <button className="button" onClick={() => void props.onEdit([w.edit as Edit])}>
                {w.mend}
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Whether a setting works only where its release has come. */
function waits(setting: Setting | undefined): boolean {
  const needs: unknown[] = setting?.needs ?? [];
  return needs.some((need) => JSON.stringify(need).includes('"release":true'));
}
