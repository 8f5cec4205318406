import { useEffect, useRef } from "react";

/** A call has been picked up by somebody of ours; told by the live stream to whoever listens in this tab. */
const EVENT = "kb-picked-up";

interface PickedUp {
  readonly leadId: string;
  readonly personId: string;
}

export function tellPickedUp(call: PickedUp): void {
  window.dispatchEvent(new CustomEvent<PickedUp>(EVENT, { detail: call }));
}

/** Do something when this person has picked up a call. */
export function usePickedUp(personId: string | undefined, act: (leadId: string) => void): void {
  const latest = useRef(act);
  latest.current = act;
  useEffect(() => {
    const hear = (event: Event) => {
      const { detail } = event as CustomEvent<PickedUp>;
      if (detail.personId === personId) latest.current(detail.leadId);
    };
    window.addEventListener(EVENT, hear);
    return () => window.removeEventListener(EVENT, hear);
  }, [personId]);
}
