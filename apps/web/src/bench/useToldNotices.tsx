import { App as AntApp, Button } from "antd";
import { useEffect } from "react";
import { firstSentence } from "./firstSentence.ts";
import { useNotices } from "./notices.ts";

const OFFER = "offer";
/** Seconds a sentence stays: as long as it takes to see it, look up and read it. */
const READ = 5;

const ALL = "all";

/** Shows each notice once, where it does not lie over what is worked on. */
export function useToldNotices(): void {
  const { message, notification } = AntApp.useApp();
  const waiting = useNotices((state) => state.waiting);
  useEffect(() => {
    if (waiting.length === 0) return;
    useNotices.setState({ waiting: [] });
    for (const { kind, text, offer } of waiting) {
      if (kind === "refused") message.error(text, READ);
      else if (kind === "said") {
        const { first, others } = firstSentence(text);
        const all = () => notification.info({ key: ALL, title: first, description: others, placement: "bottomRight", duration: 0 });
        // What lies over the bench is one sentence; the others wait to be asked for.
        message.info(
          others === "" ? (
            text
          ) : (
            <>
              {first}{" "}
              <button type="button" className="link-button" onClick={all}>
                more
              </button>
            </>
          ),
          READ,
        );
      } else
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
    }
  }, [waiting, message, notification]);
}
