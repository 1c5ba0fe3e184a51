import { Component, type ReactNode } from 'react';
import { ErrorNotice } from '../parts/ErrorNotice';

/**
 * Stands in for a view that failed while it was drawn, so that the rest of the page stays. Another address is another try.
 */
export class ViewFailure extends Component<
  { address: string; children: ReactNode },
  { error?: Error; address: string }
> {
  override state: { error?: Error; address: string } = { address: this.props.address };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  static getDerivedStateFromProps(props: { address: string }, state: { error?: Error; address: string }) {
    return props.address === state.address ? null : { address: props.address, error: undefined };
  }

  override render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    return (
      <ErrorNotice
        error={
          new Error(
            `This view could not be drawn (${error.message}). Nothing was lost: the draft is kept by the server. Load the page again, or go to another view.`,
          )
        }
        onRetry={() => window.location.reload()}
      />
    );
  }
}
