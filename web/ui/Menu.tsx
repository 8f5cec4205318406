import {
  autoUpdate,
  flip,
  offset,
  shift,
  useClick,
  useDismiss,
  useFloating,
  useInteractions,
  useListNavigation,
  useRole,
} from "@floating-ui/react";
import { useRef, useState } from "react";
import button from "./Button.module.css";
import { KeyHint } from "./KeyHint.tsx";
import styles from "./Menu.module.css";

/** One thing to choose from a menu. */
export interface MenuItem {
  readonly label: string;
  /** The key that does the same. */
  readonly shortcut?: string | undefined;
  readonly hint?: string | undefined;
  readonly disabled?: boolean | undefined;
  readonly run: () => void;
}

interface Props {
  readonly label: string;
  readonly items: readonly MenuItem[];
}

/** What is done less often, behind one button. Arrows move, Enter chooses, Escape closes. */
export function Menu({ label, items }: Props) {
  const [open, setOpen] = useState(false);
  const [active, setActive] = useState<number | null>(null);
  const nodes = useRef<(HTMLElement | null)[]>([]);
  const toButton = () => (refs.domReference.current as HTMLElement | null)?.focus();
  const { refs, floatingStyles, context } = useFloating({
    open,
    onOpenChange: (next, _event, reason) => {
      setOpen(next);
      if (reason === "escape-key") toButton();
    },
    placement: "bottom-end",
    // Beside its button in the page, where reading goes on; fixed, so that nothing around it cuts it off.
    strategy: "fixed",
    whileElementsMounted: autoUpdate,
    middleware: [offset(4), flip(), shift({ padding: 8 })],
  });
  const { getReferenceProps, getFloatingProps, getItemProps } = useInteractions([
    useClick(context),
    useDismiss(context),
    useRole(context, { role: "menu" }),
    useListNavigation(context, { listRef: nodes, activeIndex: active, onNavigate: setActive, loop: true }),
  ]);
  return (
    <>
      <button ref={refs.setReference} type="button" className={button.button} {...getReferenceProps()}>
        {label} ▾
      </button>
      {open && (
        <div
          ref={refs.setFloating}
          style={floatingStyles}
          className={styles.menu}
          role="menu"
          aria-label={label}
          {...getFloatingProps({
            // What is pressed in here is for the menu: the keys of the view behind it rest.
            onKeyDown: (event) => {
              if (event.key === "Tab") setOpen(false);
              if (event.key !== "Escape") event.stopPropagation();
            },
          })}
        >
          {items.map((item, at) => (
            <button
              key={item.label}
              ref={(node) => {
                nodes.current[at] = node;
              }}
              type="button"
              role="menuitem"
              tabIndex={active === at ? 0 : -1}
              disabled={item.disabled}
              className={styles.item}
              {...getItemProps({
                onClick: () => {
                  setOpen(false);
                  // What it opens gives the focus back to where it came from.
                  toButton();
                  item.run();
                },
              })}
            >
              <span>
                {item.label}
                {item.hint && <small>{item.hint}</small>}
              </span>
              {item.shortcut && <KeyHint keys={item.shortcut} />}
            </button>
          ))}
        </div>
      )}
    </>
  );
}
