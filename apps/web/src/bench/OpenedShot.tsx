import { Button, Result } from "antd";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { SLOW, useOpenShot } from "./useOpenShot.ts";

/** What is to be seen once a shot is open; until then that it is being opened, or why it cannot be. */
export function OpenedShot({ id, children }: { id: string; children: ReactNode }) {
  const { ready, slow, problem, again } = useOpenShot(id);
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
  if (ready) return children;
  if (!slow) return <div className="empty page-empty">Opening the shot …</div>;
  return (
    <Result
      status="info"
      title="Still opening the shot …"
      subTitle={`This browser's storage has not answered for ${SLOW} seconds: another tab may keep it busy, or the disk is slow. What was saved is safe in it. The shot opens by itself as soon as it answers.`}
      extra={[
        <Button key="anew" type="primary" onClick={() => window.location.reload()}>
          Load the page anew
        </Button>,
        <Link key="shelf" to="/">
          <Button>To the shelf</Button>
        </Link>,
      ]}
    />
  );
}
