// Called by lighthouse.sh, in a folder that has lighthouse (and with it puppeteer-core).
import lighthouse from "lighthouse";
import puppeteer from "puppeteer-core";

const root = process.argv[2];
const launch = () => puppeteer.launch({ executablePath: "/usr/bin/chromium", headless: true, args: ["--no-sandbox", "--disable-gpu"] });
const categories = ["performance", "accessibility", "best-practices"];

async function visitor() {
  const browser = await launch();
  const page = await browser.newPage();
  await page.goto(root);
  await Promise.all([page.waitForNavigation(), page.click("form[action$='/account/demo/'] button")]);
  const build = await page.$eval("a.build-open", (link) => link.getAttribute("href"));
  const cookies = await browser.cookies();
  await browser.close();
  return { build, cookies };
}

const { build, cookies } = await visitor();
let worst = 1;
for (const path of ["/", "/builds/", ...["place", "shade", "frame", "tilt", "worth"].map((key) => `${build}${key}/`)]) {
  const browser = await launch();
  if (path !== "/") await browser.setCookie(...cookies);
  const page = await browser.newPage();
  const { lhr } = await lighthouse(root + path, { disableStorageReset: true, onlyCategories: categories }, undefined, page);
  const scores = categories.map((key) => lhr.categories[key].score);
  console.log(path.padEnd(24), categories.map((key, i) => `${key} ${scores[i].toFixed(2)}`).join("   "));
  for (const key of categories.slice(1)) {
    for (const { id } of lhr.categories[key].auditRefs) {
      const audit = lhr.audits[id];
      if (audit.score === null || audit.score === 1) continue;
      for (const item of (audit.details?.items ?? []).slice(0, 5)) console.log(`    ${id}: ${item.node?.snippet ?? item.description ?? ""}`);
    }
  }
  if (scores[0] < 0.9 || scores[1] < 1 || scores[2] < 1) worst = 0;
  await browser.close();
}
process.exit(worst ? 0 : 1);
