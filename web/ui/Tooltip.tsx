import {
  autoUpdate,
  FloatingPortal,
  flip,
  offset,
  shift,
  useDismiss,
  useFloating,
  useFocus,
  useHover,
  useInteractions,
  useRole,
} from "@floating-ui/react";
import { cloneElement, type ReactElement, useState } from "react";
import { KeyHint } from "./KeyHint.tsx";
import styles from "./Tooltip.module.css";

interface Props {
  readonly text: string;
  readonly shortcut?: string | undefined;
  readonly children: ReactElement<Record<string, unknown>>;
}

/** A few words on hover or focus, with the key that does the same. */
export function Tooltip({ text, shortcut, children }: Props) {
  const [open, setOpen] = useState(false);
  const { refs, floatingStyles, context } = useFloating({
    open,
    onOpenChange: setOpen,
    placement: "top",
    whileElementsMounted: autoUpdate,
    middleware: [offset(6), flip(), shift({ padding: 8 })],
  });
  const { getReferenceProps, getFloatingProps } = useInteractions([
    useHover(context, { delay: { open: 350, close: 0 }, move: false }),
    useFocus(context),
    useDismiss(context),
    useRole(context, { role: "tooltip" }),
  ]);
  return (
    <>
      {cloneElement(children, { ref: refs.setReference, ...getReferenceProps(children.props) })}
      {open && (
        <FloatingPortal>
          <div ref={refs.setFloating} style={floatingStyles} className={styles.tip} {...getFloatingProps()}>
            {text} {shortcut && <KeyHint keys={shortcut} />}
          </div>
        </FloatingPortal>
      )}
    </>
  );
}
