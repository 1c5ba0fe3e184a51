import { useLocation, useNavigate } from 'react-router';
import { type Edit, type LicenceGapView } from '../api/client';
import { whoOfHit } from '../parts/FreeTextSearch';
import { EntityPicker } from '../parts/EntityPicker';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useCatalogue } from '../parts/queries';
import { useQuestion, writeQuestion } from '../question/question';
import { amount, capital, count, formatNumber, joinList } from '../text/words';
import { Components } from './Components';
import { GapBar } from './GapBar';
import { useLicenceGap, type Whole } from './queries';
import { Select } from '../parts/Select';
import { useStaging } from '../parts/useStaging';

const KINDS = ['family', 'component'] as const;
const KINDS_OF_ACCOUNTS = { person: 'people', room: 'rooms', guest: 'guests', service: 'service accounts' } as const;

/** What it would take for somebody to have something: the needs that are not met, and the plans that would fill the gap. */
export function LicenceGap() {
  const [question, ask] = useQuestion();
  const { search } = useLocation();
  const navigate = useNavigate();
  const catalogue = useCatalogue();
  const params = new URLSearchParams(search);
  const whole = KINDS.map((kind) => ({ kind, id: params.get(kind) ?? '' })).find((w) => w.id !== '');
  const needed = useLicenceGap(question, whole);
  const asked = question.who !== undefined && (whole !== undefined || question.what !== undefined);
  const choose = (next: Whole | undefined, what = question.what) => {
    const list = new URLSearchParams({ list: 'needed' });
    if (next) list.set(next.kind, next.id);
    void navigate(`/seats${writeQuestion({ ...question, what: next ? undefined : what }, `?${list.toString()}`)}`);
  };
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-5 pb-8">
      <div className="grid max-w-6xl gap-3 sm:grid-cols-2 lg:grid-cols-3">
        <EntityPicker
          label="To have what"
          placeholder={question.what ? 'Another setting' : 'To have what: any word for the setting'}
          kinds="setting"
          onPick={(hit) => choose(undefined, { id: hit.id })}
        />
        <EntityPicker
          label="For whom"
          placeholder={question.who ? 'For others' : 'For whom: a unit, group, person, everyone'}
          kinds="everyone,unit,group,account"
          onPick={(hit) => ask({ ...question, who: whoOfHit(hit) })}
        />
        <Select
          label="A whole family, or a component"
          value={whole ? `${whole.kind}:${whole.id}` : ''}
          options={[
            { value: '', label: 'or a whole family, or a component' },
            ...(catalogue.data?.families.map((f) => ({ value: `family:${f.id}`, group: 'Families', label: f.name })) ??
              []),
            ...(catalogue.data?.entitlements.map((c) => ({
              value: `component:${c.id}`,
              group: 'Components',
              label: c.name,
            })) ?? []),
          ]}
          onChange={(v) => {
            const [kind, ...id] = v.split(':');
            choose(kind ? { kind: kind as Whole['kind'], id: id.join(':') } : undefined);
          }}
        />
      </div>
      {!asked ? (
        <>
          <p className="text-ink2 mt-3 max-w-2xl">
            Name a setting, a family or a component, and whom it is for: how many of them could use it today, what
            stands in the way of the others, and what the seats would cost.
          </p>
          <Components />
        </>
      ) : needed.isError ? (
        <ErrorNotice error={needed.error} onRetry={() => void needed.refetch()} />
      ) : needed.data ? (
        <Answer needed={needed.data} />
      ) : (
        <p className="text-ink2 mt-3">Looking…</p>
      )}
    </div>
  );
}

function Answer({ needed }: { needed: LicenceGapView }) {
  const [stage, refusal] = useStaging('');
  const [question] = useQuestion();
  const take = (edit: Edit) => stage([edit]);
  const share = (n: number) => `${(100 * n) / Math.max(1, needed.accounts)}%`;
  const best = needed.offers[0];
  return (
    <div className="mt-4 max-w-6xl">
      <h2 className="font-display text-[20px] font-semibold">
        {needed.ready === needed.accounts
          ? `Nothing stands in the way: ${needed.asked} works for all ${count(needed.accounts, 'account')}.`
          : needed.unlicensed === 0
            ? `No seat is missing; something else stands in the way for ${formatNumber(needed.accounts - needed.ready)}.`
            : best?.shortBy === 0
              ? `${count(needed.unlicensed, 'licence')} missing, and ${best.name} has seats enough.`
              : best
                ? `${count(best.shortBy, 'seat')} of ${best.name} to buy${best.cost && best.price ? `: ${amount(best.cost)} ${best.price.currency} a ${best.price.per}` : ''}.`
                : `${count(needed.unlicensed, 'licence')} missing, and no plan that runs carries it.`}
      </h2>
      <p className="text-ink2">
        {needed.asked}, for {question.who?.kind === 'everyone' ? 'everyone' : needed.who}
        {best &&
          best.filled < needed.unlicensed &&
          `: ${formatNumber(best.filled)} of the ${formatNumber(needed.unlicensed)} who lack a licence would have one`}
        {best &&
          best.shortBy > 0 &&
          needed.beyond > 0 &&
          `; ${formatNumber(needed.beyond)} ${needed.beyond === 1 ? 'fails' : 'fail'} something that no seat can meet`}
      </p>
      <GapBar needed={needed} />
      {needed.gaps.length > 0 && (
        <section aria-label="What stands in the way">
          <h3 className="font-display mt-5 text-[16px] font-semibold">What stands in the way</h3>
          <ul className="border-line mt-1 border-t">
            {needed.gaps
              .toSorted((a, b) => b.accounts - a.accounts)
              .map((gap) => (
                <li key={gap.need} className="border-line border-b py-1">
                  <span className="flex flex-wrap items-baseline gap-x-3">
                    <span className="min-w-0 flex-1 font-semibold">{capital(gap.need)}</span>
                    {!gap.licence && (
                      <span className="text-ink2 text-[13px]">
                        {gap.within ? 'part of what is asked for' : 'no seat can meet it'}
                      </span>
                    )}
                    <span>{formatNumber(gap.accounts)}</span>
                    <span className="text-ink2 w-44 text-right text-[13px]">
                      {gap.alone === gap.accounts
                        ? 'nothing else is missing'
                        : gap.alone === 0
                          ? 'all of them fail more'
                          : `nothing else is missing for ${formatNumber(gap.alone)} of them`}
                    </span>
                  </span>
                  <span className="mt-0.5 flex h-1.5">
                    <span className="bg-shut settles" style={{ width: share(gap.alone) }} />
                    <span className="bg-shut settles opacity-40" style={{ width: share(gap.accounts - gap.alone) }} />
                  </span>
                </li>
              ))}
          </ul>
        </section>
      )}
      {needed.offers.length > 0 && (
        <section aria-label="Plans that would do">
          <h3 className="font-display mt-5 text-[16px] font-semibold">Plans that would do</h3>
          {refusal}
          {(best?.filled ?? 0) < needed.unlicensed && (
            <p className="text-ink2 text-[13px]">No one plan would do for all {formatNumber(needed.unlicensed)}.</p>
          )}
          <ul className="border-line mt-1 border-t">
            {needed.offers.map((offer) => (
              <li key={offer.plan} className="border-line flex flex-wrap items-center gap-x-4 gap-y-1 border-b py-2">
                <span className="min-w-0 flex-1">
                  <strong className="font-semibold">{offer.name}</strong> would do for {formatNumber(offer.filled)}
                  {offer.filled < needed.unlicensed && ` of the ${formatNumber(needed.unlicensed)}`}
                  <span className="text-ink2 block text-[13px]">
                    {capital(
                      joinList(
                        [
                          offer.fresh > 0 ? `${formatNumber(offer.fresh)} would need a seat` : '',
                          offer.leftOut > 0 ? `${formatNumber(offer.leftOut)} have one that leaves it out` : '',
                          offer.free === 0
                            ? 'no seat is free'
                            : `${count(offer.free, 'seat')} ${offer.free === 1 ? 'is' : 'are'} free`,
                          offer.ahead > 0
                            ? `${count(offer.ahead, 'other')} ${offer.ahead === 1 ? 'waits' : 'wait'} before them`
                            : '',
                        ].filter(Boolean),
                      ),
                    )}
                    {offer.unfit.length > 0 &&
                      `. It seats no ${offer.unfit.map((u) => `${KINDS_OF_ACCOUNTS[u.kind]} (${formatNumber(u.accounts)})`).join(' or ')}`}
                    .
                  </span>
                </span>
                <span className="text-right">
                  {offer.shortBy === 0 ? (
                    <strong className="text-open font-semibold">nothing to buy</strong>
                  ) : (
                    <>
                      <strong className="font-semibold">{count(offer.shortBy, 'seat')} short</strong>
                      {offer.cost && offer.price && (
                        <span className="block text-[13px]">
                          {amount(offer.cost)} {offer.price.currency} a {offer.price.per}
                        </span>
                      )}
                    </>
                  )}
                </span>
                {offer.edit ? (
                  <button className="button" onClick={() => void take(offer.edit as Edit)}>
                    Add to draft
                  </button>
                ) : (
                  <span className="text-ink2 w-28 text-[13px]">a rule names them already</span>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
