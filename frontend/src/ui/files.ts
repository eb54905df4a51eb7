import { type Installation, Refusal } from "../api/client";
import { t } from "./words";

const LARGEST_BYTES = 20_000_000;

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

/** A file as text that goes into JSON. Fails in words where it is too large or cannot be read. */
export function readFile(file: File): Promise<string> {
  if (file.size > LARGEST_BYTES)
    return Promise.reject(
      new Refusal(413, t("{0} is larger than 20 MB. Cut the recording into shorter ones.", file.name)),
    );
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result).replace(/^[^,]*,/, ""));
    reader.onerror = () => reject(new Error(t("{0} cannot be read.", file.name)));
    reader.readAsDataURL(file);
  });
}
