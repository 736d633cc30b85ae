import { Button, Result } from "antd";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { useOpenShot } from "./useOpenShot.ts";

/** What is to be seen once a shot is open; until then that it is being opened, or why it cannot be. */
export function OpenedShot({ id, children }: { id: string; children: ReactNode }) {
  const { ready, problem, again } = useOpenShot(id);
  if (problem)
    return (
      <Result
        status="warning"
        title="This shot cannot be opened"
        subTitle={problem}
        extra={[
          <Link key="shelf" to="/">
            <Button type="primary">To the shelf</Button>
          </Link>,
          <Button key="again" onClick={again}>
            Try again
          </Button>,
        ]}
      />
    );
  return ready ? children : <div className="empty page-empty">Opening the shot …</div>;
}
