import { useCatalogue } from './queries';
import { Select } from './Select';

/** Narrows settings to those of one app; empty for all of them. */
export function AppSelect(props: { value: string; className?: string; onChange: (app: string) => void }) {
  const catalogue = useCatalogue();
  return (
    <Select
      label="App"
      {...props}
      options={[
        { value: '', label: 'all apps' },
        ...(catalogue.data?.apps.map((a) => ({ value: a.id, label: a.name })) ?? []),
      ]}
    />
  );
}
