import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, problemText, RefusedError, unwrap } from '../api/client';
import { Select } from '../parts/Select';
import { Alert } from '../parts/Alert';

const ZONES = [...new Set(['UTC', ...Intl.supportedValuesOf('timeZone')])].map((zone) => ({
  value: zone,
  label: zone.replaceAll('_', ' '),
}));
const REGIONS = [
  { value: '', label: 'no region' },
  { value: 'eu', label: 'European Union' },
  { value: 'uk', label: 'United Kingdom' },
  { value: 'us', label: 'United States' },
];

/** Where nothing is there yet: the organisation and a catalogue, and then Today says what is still missing. */
export function StartPage() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [name, setName] = useState('');
  const [zone, setZone] = useState(Intl.DateTimeFormat().resolvedOptions().timeZone);
  const [region, setRegion] = useState('eu');
  const [file, setFile] = useState<File>();
  const [refusal, setRefusal] = useState('');
  const [sending, setSending] = useState(false);
  const start = async () => {
    if (name.trim() === '') return setRefusal('Type the name of the organisation.');
    setRefusal('');
    setSending(true);
    try {
      const catalogue = file ? catalogueOf(await file.text()) : null;
      await unwrap(
        api.POST('/api/v1/start', {
          body: { organisation: { name: name.trim(), timeZone: zone, ...(region ? { region } : {}) }, catalogue },
        }),
      );
      await queries.invalidateQueries();
      void navigate('/today');
    } catch (error) {
      if (error instanceof RefusedError) setRefusal(problemText(error.problem));
      else if (error instanceof SyntaxError)
        setRefusal(`${file?.name ?? 'The file'} is no catalogue: ${error.message}.`);
      else throw error;
    } finally {
      setSending(false);
    }
  };
  return (
    <form
      className="max-w-2xl space-y-4 p-8"
      aria-label="Start"
      onSubmit={(e) => {
        e.preventDefault();
        void start();
      }}
    >
      <h1 className="font-display text-xl font-semibold">Start with your organisation</h1>
      <p>
        Two things are needed first: who you are, and what can be set. People, units, groups, licences and policies come
        next, in any order; Today says what is still missing.
      </p>
      <label className="block">
        Name of the organisation
        <input
          className="field mt-1 w-full"
          value={name}
          // There is nothing else to begin with.
          autoFocus
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <div className="flex flex-wrap gap-4">
        <span>
          Time zone
          <Select label="Time zone" className="mt-1 flex! w-64" value={zone} options={ZONES} onChange={setZone} />
        </span>
        <span>
          Region
          <Select label="Region" className="mt-1 flex! w-48" value={region} options={REGIONS} onChange={setRegion} />
        </span>
      </div>
      <fieldset>
        <legend>Catalogue: what can be set</legend>
        <p className="text-ink2 text-[13px]">
          {file
            ? `${file.name}, from your vendor.`
            : 'The starter catalogue that ships with Lean Ladder, with about 180 settings.'}
        </p>
        <label className="button mt-1 cursor-pointer">
          {file ? 'Another file' : 'Take the vendor’s file instead'}
          <input
            type="file"
            accept=".json,application/json"
            className="sr-only"
            onChange={(e) => setFile(e.target.files?.[0])}
          />
        </label>
        {file && (
          <button type="button" className="quiet ml-3 text-[13px]" onClick={() => setFile(undefined)}>
            Take the starter catalogue
          </button>
        )}
      </fieldset>
      <Alert>{refusal}</Alert>
      <button className="button button-strong" disabled={sending}>
        {sending ? 'Starting…' : 'Start'}
      </button>
      <p className="text-ink2 text-[13px]">
        Whoever has a whole estate file starts with <code>./ladder up --estate FILE</code> instead.
      </p>
    </form>
  );
}

/** The catalogue of a file: the file itself, or the member of an estate file. */
export function catalogueOf(text: string): Record<string, unknown> {
  const read: unknown = JSON.parse(text);
  if (read === null || typeof read !== 'object') throw new SyntaxError('it holds no object');
  const inside = (read as { catalogue?: unknown }).catalogue ?? read;
  if (!Array.isArray((inside as { settings?: unknown }).settings)) throw new SyntaxError('it lists no settings');
  return inside as Record<string, unknown>;
}
