import type { ReactNode } from 'react';

/** A part of a drawing that can be pressed, by mouse or by keyboard. */
export function Pressable(props: { label: string; pressed?: boolean; onPress: () => void; children: ReactNode }) {
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={props.label}
      aria-pressed={props.pressed}
      className="cursor-pointer"
      onClick={props.onPress}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' && e.key !== ' ') return;
        e.preventDefault();
        props.onPress();
      }}
    >
      {props.children}
    </g>
  );
}
