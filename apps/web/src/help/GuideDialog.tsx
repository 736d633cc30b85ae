import { operationById } from "@kneader/core";
import { useQuery } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import { commandShortcut } from "../bench/commandKeys.ts";
import { useDialogs } from "../bench/dialogs.ts";
import { useWork } from "../bench/work/workStore.ts";
import { makeDemoShot } from "../shots/demo.ts";
import { runInWorker } from "../workers/operations.ts";
import { BeforeAfterPicture } from "./BeforeAfterPicture.tsx";
import { mostChanged } from "./beforeAfter.ts";
import { hasPicture, prepareExample } from "./examples.ts";
import "./help.css";

/** What an operation is for, what it does to a curve of the demo, and what to watch for. */
export function GuideDialog() {
  const open = useDialogs((state) => state.open === "guide");
  const id = useDialogs((state) => state.guide);
  const show = useDialogs((state) => state.show);
  const operation = id === null ? null : operationById(id);
  const close = () => show(null);
  const use = () => {
    close();
    if (id !== null) useWork.getState().open(id);
  };
  return (
    <Modal
      open={open && operation !== null}
      onCancel={close}
      title={operation?.title}
      width={560}
      footer={[
        <Button key="close" onClick={close}>
          Close
        </Button>,
        <Button key="use" type="primary" onClick={use}>
          Use it {id && commandShortcut(id) && <kbd>{commandShortcut(id)}</kbd>}
        </Button>,
      ]}
    >
      {operation && (
        <div className="guide">
          <p>{operation.guide?.use}</p>
          <Picture id={operation.id} />
          <p>
            <b>What it does.</b> {operation.help}
          </p>
          <p>
            <b>Watch for.</b> {operation.guide?.watch}
          </p>
        </div>
      )}
    </Modal>
  );
}

/** Made from the demo by the operation itself, in the worker. */
function Picture({ id }: { id: string }) {
  const { data, isPending } = useQuery({
    queryKey: ["guide", id],
    queryFn: () => pictureOf(id),
    staleTime: Infinity,
    enabled: hasPicture(id),
  });
  if (!hasPicture(id)) return null;
  if (isPending) return <p className="quiet">Drawing a picture …</p>;
  return data ? <BeforeAfterPicture {...data} /> : null;
}

async function pictureOf(id: string) {
  const run: Parameters<typeof prepareExample>[2] = async (operation, shot, scope, settings) =>
    (await runInWorker(operation, shot, scope, settings).done).shot;
  const example = await prepareExample(id, makeDemoShot, run);
  if (!example) return null;
  const { shot, scope, settings } = example;
  return mostChanged(shot, await run(id, shot, scope, settings), scope.controls);
}
