import { Button, Result } from "antd";
import { Component, type ReactNode } from "react";

/** A fault in drawing does not take the work with it: what was saved is saved, and the page can go on. */
export class ErrorBoundary extends Component<{ children: ReactNode }, { error: Error | null }> {
  override state = { error: null as Error | null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  override render() {
    if (!this.state.error) return this.props.children;
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
