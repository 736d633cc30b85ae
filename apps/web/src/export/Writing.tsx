import { Button, Progress } from "antd";
import { useEffect, useState } from "react";

/** What is done at once is not announced (milliseconds). */
const SOON = 500;

/** How far a file is, and a way to stop it, once it takes long enough to wonder. */
export function Writing({ share, stop }: { share: number; stop(): void }) {
  const [isLong, setLong] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLong(true), SOON);
    return () => clearTimeout(timer);
  }, []);
  return (
    <>
      <p className="quiet">Looking at what it can hold …</p>
      {isLong && (
        <div className="export-writing">
          <Progress percent={Math.round(share * 100)} format={(percent) => `${percent} %`} size="small" aria-label="Writing the file" />
          <Button size="small" onClick={stop}>
            Stop
          </Button>
        </div>
      )}
    </>
  );
}
