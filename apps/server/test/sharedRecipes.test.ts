import { mkdtempSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { readRecipe, recipeToText, shippedRecipes } from "@kneader/core";
import type { FastifyInstance } from "fastify";
import { buildServer } from "../src/server.ts";
import { type Listed, ShelfFolder } from "../src/shelf/shelfFolder.ts";

const walk = shippedRecipes[1];
const named = (name: string, notes = walk.notes): string => recipeToText({ ...walk, name, notes });
const unlocked = { "x-kneader-shelf": "unlocked", "content-type": "application/json" };
let folder = "";
let server: FastifyInstance;

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "kneader-shelf-"));
  server = await buildServer(folder, { shelf: new ShelfFolder(folder), token: null, open: false });
});
afterEach(async () => {
  await server.close();
  rmSync(folder, { recursive: true });
});

const listed = async (): Promise<{ actions: Listed[]; recipes: Listed[] }> => (await server.inject({ url: "/api/shelf" })).json();
const send = (payload: string) => server.inject({ method: "POST", url: "/api/shelf", headers: unlocked, payload });
const read = async (id: string) => (await server.inject({ url: `/api/shelf/${id}` })).body;

describe("recipes on the shared shelf", () => {
  test("are listed apart from actions, lie in a folder of theirs, and come back as they were put there", async () => {
    expect((await send(named("Clean up"))).statusCode).toBe(201);
    const { actions, recipes } = await listed();
    expect(actions).toEqual([]);
    expect(recipes).toMatchObject([{ kind: "recipe", broken: null, card: { name: "Clean up", notes: walk.notes, folder: "Recipes" } }]);
    expect(readRecipe(await read(recipes[0].id))).toEqual({ ...walk, name: "Clean up" });
    expect(readdirSync(join(folder, "Recipes"))).toEqual(["Clean up.json"]);
  });

  test("are replaced only when they are still what was seen; what was lies in the bin", async () => {
    await send(named("Clean up"));
    const [{ id, etag }] = (await listed()).recipes;
    const change = (notes: string) =>
      server.inject({
        method: "PUT",
        url: `/api/shelf/${id}`,
        headers: { ...unlocked, "if-match": etag },
        payload: named("Clean up", notes),
      });
    expect((await change("mine")).statusCode).toBe(200);
    const late = await change("theirs");
    expect([late.statusCode, late.json().detail]).toEqual([412, expect.stringMatching(/changed it since/)]);
    expect(readRecipe(await read(id)).notes).toBe("mine");
    expect(readdirSync(join(folder, ".bin"))).toHaveLength(1);
  });

  test("that nobody can run are refused with the step; one put there by hand is listed as broken", async () => {
    const odd = named("Odd").replace('"other-half"', '"bake-cake"');
    writeFileSync(join(folder, "odd.json"), odd);
    const answer = await send(odd);
    expect([answer.statusCode, answer.json().detail]).toEqual([422, expect.stringMatching(/Step 1 of the recipe is "bake-cake"/)]);
    const { actions } = await listed();
    expect(actions.map(({ card, broken }) => [card.name, broken])).toEqual([["odd", expect.stringMatching(/bake-cake/)]]);
  });
});
