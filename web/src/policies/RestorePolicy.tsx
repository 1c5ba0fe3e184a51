import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useDraft } from '../draft/draft';
import { DateField } from '../parts/DateField';
import { useQuestion, writeQuestion } from '../question/question';
import { Alert } from '../parts/Alert';

/** Brings a policy back to what it was at the end of a day, as a draft that opens for review. */
export function RestorePolicy({ policy, zone }: { policy: { id: string; name: string }; zone: string }) {
  const { restore } = useDraft();
  const [at, setAt] = useState<string>();
  const [refusal, setRefusal] = useState('');
  const navigate = useNavigate();
  const [question] = useQuestion();
  const begin = async () => {
    if (!at) return setRefusal('Type the day to which it is to be restored.');
    const problem = await restore(policy, at);
    if (problem) setRefusal(problem.detail);
    else void navigate(`/review${writeQuestion(question)}`);
  };
  return (
    <div className="mt-3 flex flex-wrap items-start gap-2 text-[13px]">
      <span className="leading-8">Bring it back to how it was at the end of</span>
      <DateField
        label="Day to go back to"
        zone={zone}
        of="instant"
        side="past"
        until
        value={at}
        onChange={(next) => {
          setAt(next);
          setRefusal('');
        }}
      />
      <button className="button" onClick={() => void begin()}>
        Restore
      </button>
      <Alert className="w-full">{refusal}</Alert>
    </div>
  );
}
