import { DropdownMenu } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import type { Climb } from '../api/client';
import { copy, NOT_COPIED } from '../text/clipboard';

/** The address of this answer as it stands at an instant. */
function asOf(at: string): string {
  const url = new URL(window.location.href);
  url.searchParams.set('when', at);
  return url.toString();
}

/** Copies the answer: as a link, as a sentence, as text for a ticket. */
export function CopyMenu({ climb }: { climb: Climb }) {
  const [said, setSaid] = useState('');
  const silence = useRef<number>(undefined);
  useEffect(() => () => window.clearTimeout(silence.current), []);
  const take = async (what: string, text: string) => {
    setSaid((await copy(text)) ? `${what} is copied` : NOT_COPIED);
    window.clearTimeout(silence.current);
    silence.current = window.setTimeout(() => setSaid(''), 5000);
  };
  const sentence = `${climb.drawing.answer}. ${climb.drawing.because.map((p) => p.text).join('')}`;
  return (
    <div className="no-print flex shrink-0 items-center gap-2">
      <span role="status" className="text-ink2 text-[13px]">
        {said}
      </span>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="button">Copy</DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            sideOffset={4}
            className="bg-sheet text-ink border-line2 z-40 rounded border p-1 shadow-lg"
          >
            {(
              [
                ['The link', 'Link', () => window.location.href],
                ['The link as of this instant', 'The link as of this instant', () => asOf(climb.at)],
                ['The sentence to read aloud', 'The sentence', () => sentence],
                [
                  'The answer as text, for a ticket',
                  'The answer',
                  () => `${climb.drawing.text}\n${window.location.href}\n`,
                ],
              ] as const
            ).map(([label, what, text]) => (
              <DropdownMenu.Item
                key={label}
                className="data-[highlighted]:bg-well cursor-pointer rounded-[3px] px-3 py-1.5 outline-none"
                onSelect={() => void take(what, text())}
              >
                {label}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </div>
  );
}
