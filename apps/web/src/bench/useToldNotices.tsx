import { App as AntApp, Button } from "antd";
import { useEffect } from "react";
import { useNotices } from "./notices.ts";

const OFFER = "offer";

/** Shows each notice once, where it does not lie over what is worked on. */
export function useToldNotices(): void {
  const { message, notification } = AntApp.useApp();
  const latest = useNotices((state) => state.latest);
  useEffect(() => {
    if (!latest) return;
    useNotices.setState({ latest: null });
    const { kind, text, offer } = latest;
    if (kind === "refused") message.error(text);
    else if (kind === "said") message.info(text, 5);
    else
      notification.warning({
        key: OFFER,
        title: text,
        placement: "bottomRight",
        duration: 12,
        actions: (
          <Button
            size="small"
            type="primary"
            onClick={() => {
              notification.destroy(OFFER);
              offer?.run();
            }}
          >
            {offer?.label}
          </Button>
        ),
      });
  }, [latest, message, notification]);
}
