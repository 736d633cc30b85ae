import { Button, Result } from "antd";
import { Component, type ReactNode } from "react";
import { isOutdated, lookWhy, reload, useOutdated } from "./outdated.ts";

/** A part of the application could not be loaded: it was updated, or nobody answers. */
function PartMissing() {
  const why = useOutdated((state) => state.why);
  const again = async () => {
    if (await lookWhy()) await reload();
  };
  return (
    <Result
      status="info"
      title={why === "silent" ? "Kneader's server does not answer" : "Kneader was updated since this page was opened"}
      subTitle={
        why === "silent"
          ? "This page could not be loaded. Your shots are saved in this browser."
          : "A part of the older one is no longer there. Your shots are saved; reload to go on."
      }
      extra={
        <Button type="primary" onClick={() => void again()}>
          {why === "silent" ? "Try again" : "Reload"}
        </Button>
      }
    />
  );
}

/** A fault in drawing does not take the work with it: what was saved is saved, and the page can go on. */
export class ErrorBoundary extends Component<{ children: ReactNode }, { error: Error | null }> {
  override state = { error: null as Error | null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  override render() {
    if (!this.state.error) return this.props.children;
    if (isOutdated(this.state.error)) return <PartMissing />;
    return (
      <Result
        status="error"
        title="Something went wrong on this page"
        subTitle={`${this.state.error.message}. Your shots are saved in this browser.`}
        extra={[
          <Button key="again" type="primary" onClick={() => this.setState({ error: null })}>
            Try again
          </Button>,
          <Button key="shelf" href="/">
            To the shelf
          </Button>,
        ]}
      />
    );
  }
}
