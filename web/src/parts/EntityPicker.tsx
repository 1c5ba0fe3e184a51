import type { Hit } from '../api/client';
import { SearchBox, hitOption } from './SearchBox';

/** A field that finds something by name and hands over what was picked; then it is empty again. */
export function EntityPicker(props: {
  label: string;
  /** The label, when left out. */
  placeholder?: string;
  kinds: string;
  /** Why something found cannot be picked. */
  refuse?: (hit: Hit) => string | undefined;
  onPick: (hit: Hit) => void;
  autoFocus?: boolean;
}) {
  return (
    <SearchBox
      label={props.label}
      placeholder={props.placeholder ?? props.label}
      kinds={props.kinds}
      clearOnChoose
      autoFocus={props.autoFocus}
      options={(hits) => hits.map((hit) => hitOption(hit, () => props.onPick(hit), props.refuse?.(hit)))}
    />
  );
}
