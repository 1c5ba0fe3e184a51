import { useState } from 'react';
import { problemText } from '../api/client';
import { useDraft } from '../draft/draft';
import { Alert } from '../parts/Alert';

/** Makes a new access group of accounts: those of a search, or those that are ticked. */
export function GroupFrom(props: {
  label: string;
  /** Reads who they are. */
  accounts: () => Promise<string[]>;
  onCreated: (group: string) => void;
}) {
  const { add } = useDraft();
  const [name, setName] = useState<string>();
  const [refusal, setRefusal] = useState('');
  const create = async () => {
    const called = (name ?? '').trim();
    if (called === '') return setRefusal('Name the group.');
    const members = (await props.accounts()).map((id) => `account:${id}`);
    const added = await add([{ kind: 'add-group', group: { name: called, purpose: 'access', members } }]);
    if (typeof added === 'string') props.onCreated(added);
    else setRefusal(problemText(added));
  };
  if (name === undefined)
    return (
      <button className="button" onClick={() => setName('')}>
        {props.label}
      </button>
    );
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        void create();
      }}
    >
      <input
        className="field w-44"
        aria-label="Name of the new group"
        placeholder="Name of the new group"
        value={name}
        autoFocus
        onChange={(e) => setName(e.target.value)}
        onKeyDown={(e) => e.key === 'Escape' && setName(undefined)}
      />
      <button className="button button-strong">Create</button>
      <Alert>{refusal}</Alert>
    </form>
  );
}
