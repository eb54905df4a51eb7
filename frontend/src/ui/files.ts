import type { Fit } from "../api/client";

/** Let the person choose a *.fit.json file; its content as data, or an error in words. */
export function chooseFitFile(): Promise<Fit> {
  return new Promise((resolve, reject) => {
    const input = document.createElement("input");
    input.type = "file";
    input.accept = ".json,application/json";
    input.addEventListener("change", async () => {
      const file = input.files?.[0];
      if (!file) return;
      if (file.size > 500_000) return reject(new Error(`${file.name} is larger than 500 kB; a fit file has a few kB.`));
      try {
        const content: unknown = JSON.parse(await file.text());
        if (content === null || typeof content !== "object" || Array.isArray(content)) throw new SyntaxError();
        resolve(content as Fit);
      } catch {
        reject(new Error(`${file.name} is not a fit file: it holds no JSON document. Export one to see its form.`));
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
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "") || "fit";

/** Hand a fit document over as a *.fit.json file. */
export function offerFitFile(fit: Fit, name: string) {
  offer(new Blob([`${JSON.stringify(fit, null, 2)}\n`], { type: "application/json" }), `${fileName(name)}.fit.json`);
}

/** Hand a file over to be kept. */
export function offer(content: Blob, name: string) {
  const url = URL.createObjectURL(content);
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
  window.setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
