/** A dialog: the keyboard begins in its first field, and what was typed is not lost when it is left by mistake. */
import { App, Modal, type ModalProps } from "antd";
import { useEffect, useRef } from "react";

interface Props extends ModalProps {
  /** What is typed is taken over as it is typed: nothing is lost when it is left. */
  saves?: boolean;
}

const FIELDS = "input:not([type=hidden]):not([type=file]):not(:disabled), textarea:not(:disabled)";

export function Dialog({ saves = false, onCancel, children, afterOpenChange, ...given }: Props) {
  const { modal } = App.useApp();
  const body = useRef<HTMLDivElement>(null);
  const typed = useRef(false);
  const asking = useRef(false);
  const { open } = given;
  useEffect(() => {
    if (open) typed.current = false;
  }, [open]);
  const ask = async (e: Parameters<NonNullable<ModalProps["onCancel"]>>[0]) => {
    asking.current = true;
    const sure = await modal.confirm({
      title: "Leave it?",
      content: "What was typed here is not taken over.",
      okText: "Leave",
      cancelText: "Go on typing",
      autoFocusButton: "cancel",
    });
    asking.current = false;
    if (sure) onCancel?.(e);
  };
  /** Escape, the cross and a press beside it may be mistakes; the button in the foot is none. */
  const leave: ModalProps["onCancel"] = (e) => {
    const meant = e.target instanceof Element && e.target.closest(".ant-modal-footer") !== null;
    if (saves || meant || !typed.current) return onCancel?.(e);
    if (asking.current) return;
    void ask(e);
  };
  return (
    <Modal
      {...given}
      onCancel={leave}
      afterOpenChange={(now) => {
        if (now) body.current?.querySelector<HTMLElement>(FIELDS)?.focus();
        afterOpenChange?.(now);
      }}
    >
      <div ref={body} onInput={() => (typed.current = true)}>
        {children}
      </div>
    </Modal>
  );
}
