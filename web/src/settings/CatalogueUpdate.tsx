import { useState } from 'react';
import { Link } from 'react-router';
import { RefusedError, api, problemText, unwrap, type Edit, type Schemas } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { Alert } from '../parts/Alert';
import { Sheet } from '../parts/Sheet';
import { useStaging } from '../parts/useStaging';
import { ValueControl } from '../parts/ValueControl';
import { count, joinList } from '../text/words';

type Update = Schemas['CatalogueUpdateView'];
type Misfit = Schemas['MisfitStatement'];

/** Reads a newer version of the catalogue, shows what it changes and which statements do not fit, and adds the update to the draft. */
export function CatalogueUpdate({ onClose }: { onClose: () => void }) {
  const after = useAfterDraft();
  const [update, setUpdate] = useState<Update>();
  const [values, setValues] = useState<Record<string, unknown>>({});
  const [refusal, setRefusal] = useState('');
  const [stage, refused] = useStaging('mt-2');
  const read = async (file?: File) => {
    setUpdate(undefined);
    setValues({});
    setRefusal('');
    if (!file) return;
    try {
      const body = JSON.parse(await file.text()) as Record<string, never>;
      setUpdate(
        await unwrap(
          api.POST('/api/v1/catalogue/update', { params: { query: { name: file.name, ...after.query } }, body }),
        ),
      );
    } catch (error) {
      if (error instanceof RefusedError) setRefusal(problemText(error.problem));
      else if (error instanceof SyntaxError) setRefusal(`${file.name} is not JSON: ${error.message}.`);
      else throw error;
    }
  };
  const take = async () => {
    if (!update?.edit) return;
    if (update.edit.kind !== 'batch') return;
    const batch = update.edit;
    const adjusted = update.misfits.filter((m) => id(m) in values).map((m) => statement(m, values[id(m)]));
    if (await stage([{ ...batch, edits: [...batch.edits, ...adjusted] }])) onClose();
  };
  return (
    <Sheet
      label="Update the catalogue"
      className="w-[520px]"
      head={<h2 className="font-display text-[18px] font-semibold">Update the catalogue</h2>}
      onClose={onClose}
    >
      <p>
        Choose the newer catalogue that your vendor sent. Nothing changes until the draft is published; which settings
        workspaces may decide, and your preview rings, stay as they are.
      </p>
      <input
        type="file"
        className="file:border-line2 file:bg-sheet file:text-ink mt-2 file:mr-2 file:h-8 file:rounded-[3px] file:border file:border-solid file:px-3"
        aria-label="The catalogue"
        accept=".json,application/json"
        onChange={(e) => void read(e.target.files?.[0])}
      />
      <Alert className="mt-2">{refusal}</Alert>
      {update && (
        <>
          <p role="status" className="mt-3 font-semibold">
            {summary(update)}
          </p>
          {update.refusals.length > 0 && (
            <section className="mt-3">
              <h3 className="font-semibold">Cannot be applied</h3>
              <ul className="text-shut">
                {update.refusals.map((words) => (
                  <li key={words}>{words}</li>
                ))}
              </ul>
            </section>
          )}
          {update.misfits.length > 0 && (
            <section className="mt-3">
              <h3 className="font-semibold">
                {count(update.misfits.length, 'statement')} {update.misfits.length === 1 ? 'does' : 'do'} not fit any
                more
              </h3>
              <p className="text-ink2 text-[13px]">
                {update.misfits.length === 1 ? 'It is' : 'They are'} removed unless you choose another value.
              </p>
              <ul>
                {update.misfits.map((misfit) => (
                  <li key={id(misfit)} className="border-line border-b py-2">
                    <Link className="link" to={`/policies/${encodeURIComponent(misfit.policy)}`}>
                      {misfit.name}
                    </Link>
                    : {misfit.title}, {misfit.says}
                    {misfit.setting ? (
                      <div className="mt-1 flex items-center gap-2">
                        {id(misfit) in values ? (
                          <>
                            <ValueControl
                              setting={misfit.setting}
                              title={misfit.title}
                              value={values[id(misfit)]}
                              refused={false}
                              onChange={(value) => setValues((all) => ({ ...all, [id(misfit)]: value }))}
                            />
                            <button
                              className="quiet"
                              onClick={() =>
                                setValues((all) =>
                                  Object.fromEntries(Object.entries(all).filter(([k]) => k !== id(misfit))),
                                )
                              }
                            >
                              Remove it instead
                            </button>
                          </>
                        ) : (
                          <button
                            className="button"
                            onClick={() => setValues((all) => ({ ...all, [id(misfit)]: misfit.setting?.default }))}
                          >
                            Choose another value
                          </button>
                        )}
                      </div>
                    ) : (
                      <span className="text-ink2 block text-[13px]">
                        The setting is removed, so this is removed too.
                      </span>
                    )}
                  </li>
                ))}
              </ul>
            </section>
          )}
          <Titles head="New settings" titles={update.added.map((s) => s.name)} />
          {update.amended.length > 0 && (
            <section className="mt-3">
              <h3 className="font-semibold">Changed settings</h3>
              <ul>
                {update.amended.map((setting) => (
                  <li key={setting.key} className="py-0.5">
                    {setting.words.length > 0 ? setting.words.join('; ') : setting.title}
                  </li>
                ))}
              </ul>
            </section>
          )}
          <Titles head="Removed settings" titles={update.removed.map((s) => s.name)} />
          {refused}
          <button
            className="button button-strong mt-4"
            disabled={!update.edit || update.refusals.length > 0}
            onClick={() => void take()}
          >
            Add to draft
          </button>
        </>
      )}
    </Sheet>
  );
}

const id = (m: Misfit): string => [m.policy, m.key, m.cap].join(' ');

const statement = (m: Misfit, value: unknown): Edit => ({
  kind: 'put-statement',
  policy: m.policy,
  statement: { setting: m.key, ...(m.cap ? { cap: value } : { set: value, lock: m.lock }) },
});

function summary(update: Update): string {
  const parts = [
    update.added.length > 0 && count(update.added.length, 'new setting'),
    update.amended.length > 0 && `${count(update.amended.length, 'setting')} changed`,
    update.removed.length > 0 && `${count(update.removed.length, 'setting')} removed`,
  ].filter((part) => part !== false);
  if (parts.length > 0) return `${joinList(parts)}.`;
  return update.edit
    ? 'The settings are the same; apps, sizes or families differ.'
    : 'This is the catalogue that you have already.';
}

function Titles({ head, titles }: { head: string; titles: string[] }) {
  if (titles.length === 0) return null;
  return (
    <section className="mt-3">
      <h3 className="font-semibold">{head}</h3>
      <ul>
        {titles.map((title) => (
          <li key={title} className="py-0.5">
            {title}
          </li>
        ))}
      </ul>
    </section>
  );
}
