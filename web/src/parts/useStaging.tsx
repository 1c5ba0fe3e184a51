import { useState, type ReactNode } from 'react';
import { problemText, type Edit } from '../api/client';
import { useDraft } from '../draft/draft';
import { Alert } from './Alert';

/**
 * Adds edits to the draft; why they are refused is said where the second value is drawn. The first gives whether they were taken.
 */
export function useStaging(className = 'mt-1'): [(edits: Edit[]) => Promise<boolean>, ReactNode] {
  const { stage } = useDraft();
  const [refusal, setRefusal] = useState('');
  const send = async (edits: Edit[]) => {
    const problem = await stage(edits);
    setRefusal(problem ? problemText(problem) : '');
    return problem === undefined;
  };
  return [send, <Alert className={className}>{refusal}</Alert>];
}
