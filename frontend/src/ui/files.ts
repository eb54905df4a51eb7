import type { Installation } from "../api/client";

/** Let the person choose a *.installation.json file; its content as data, or an error in words. */
export function chooseInstallationFile(): Promise<Installation> {
  return new Promise((resolve, reject) => {
    const input = document.createElement("input");
    input.type = "file";
    input.accept = ".json,application/json";
    input.addEventListener("change", async () => {
      const file = input.files?.[0];
      if (!file) return;
      if (file.size > 500_000)
        return reject(new Error(`${file.name} is larger than 500 kB; an installation file has a few kB.`));
      try {
        const content: unknown = JSON.parse(await file.text());
        if (content === null || typeof content !== "object" || Array.isArray(content)) throw new SyntaxError();
        resolve(content as Installation);
      } catch {
        reject(
          new Error(`${file.name} is not an installation file: it holds no JSON document. Export one to see its form.`),
        );
      }
    });
    document.body.append(input);
    input.style.display = "none";
    input.click();
    input.remove();
  });
}

const fileName = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, "-")
    .slice(0, 80)
    .replace(/^-|-$/g, "") || "installation";

/** Hand an installation document over as a *.installation.json file. */
export function offerInstallationFile(installation: Installation, name: string) {
  offer(
    new Blob([`${JSON.stringify(installation, null, 2)}\n`], { type: "application/json" }),
    `${fileName(name)}.installation.json`,
  );
}

/** Hand a file over to be kept. */
export function offer(content: Blob, name: string) {
  const url = URL.createObjectURL(content);
  const stage = document.createElement("a");
  stage.href = url;
  stage.download = name;
  stage.click();
  window.setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
