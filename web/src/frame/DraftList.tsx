import { Popover } from 'radix-ui';
import { formatInstant } from '../text/dates';
import { count } from '../text/words';
import { useDraft } from '../draft/draft';
import { stuckText } from '../draft/impactText';
import { PopoverPanel } from '../parts/PopoverPanel';
import { useSavedDrafts } from '../parts/queries';

/** Drafts saved for later, also those of others, to be taken up again; and those that wait to publish themselves. */
export function DraftList({ zone }: { zone: string }) {
  const { takeUp } = useDraft();
  const others = useSavedDrafts();
  if (others.length === 0) return null;
  return (
    <Popover.Root>
      <Popover.Trigger className="text-ink2 hover:text-ink flex items-center gap-1.5 text-[13px] whitespace-nowrap">
        <span className="bg-draft inline-block h-3 w-1" aria-hidden />
        {count(others.length, 'draft')}
        <span className="hidden xl:inline"> saved for later</span>
      </Popover.Trigger>
      <PopoverPanel label="Drafts saved for later" offset={6} className="max-h-[70vh] w-[440px] overflow-y-auto p-3">
        <ul className="border-line border-t">
          {others.map((d) => (
            <li key={d.id} className="border-line flex items-baseline gap-3 border-b py-1.5">
              <span className="min-w-0 flex-1">
                <strong className="font-semibold">{d.name || 'Draft, unnamed'}</strong>
                <span className="text-ink2 block text-[13px]">
                  {count(d.edits, 'edit')}, {d.author}, {formatInstant(d.touched, zone)}
                  {d.due && !d.stuck && ` · publishes itself on ${formatInstant(d.due, zone)}`}
                </span>
                {d.stuck && <span className="text-shut block text-[13px]">{stuckText(d, zone)}</span>}
              </span>
              <Popover.Close className="button" onClick={() => takeUp(d.id)}>
                Open
              </Popover.Close>
            </li>
          ))}
        </ul>
      </PopoverPanel>
    </Popover.Root>
  );
}
