/** The pictures that go onto the demo's screens, as pages. All names and figures are made up. */
export interface ContentPage {
  file: string;
  width: number;
  height: number;
  html: string;
}

const BEDS = [
  ['Bed 1', 'Ferns', 21.4],
  ['Bed 2', 'Begonias', 23.1],
  ['Bed 3', 'Seedlings', 24.8],
  ['Bed 4', 'Orchids', 26.2],
  ['Bed 5', 'Cuttings', 22.7],
  ['Bed 6', 'Citrus', 19.5],
  ['Bed 7', 'Palms', 25.3],
  ['Bed 8', 'Mosses', 18.2],
] as const;

function curve(seed: number): string {
  return Array.from(
    { length: 25 },
    (_, i) => `${i * 16},${60 - 26 * Math.sin(i / 4 + seed) - 9 * Math.sin(i * 0.9 + seed * 3)}`,
  ).join(' ');
}

export const bedTemperatures: ContentPage = {
  file: 'bed-temperatures.png',
  width: 1680,
  height: 1050,
  html: `<style>body{background:#f3f6ee;color:#1d2b22;padding:44px 52px}h1{font-size:58px;font-weight:720}
    .sub{font-size:28px;color:#56705c;margin:4px 0 30px}.grid{display:grid;grid-template-columns:repeat(4,1fr);gap:22px}
    .bed{background:#fff;border:2px solid #d5e0cf;border-radius:18px;padding:22px 24px;height:385px}
    .bed b{font-size:30px}.bed span{display:block;font-size:24px;color:#56705c}.t{font-size:84px;font-weight:640;margin:18px 0 6px}
    .t small{font-size:36px;font-weight:420}.bar{height:14px;border-radius:7px;background:#e1e8dc;margin-top:16px;overflow:hidden}.bar i{display:block;height:100%;background:#3c8c54}
    .hot .t{color:#b4471c}.hot .bar i{background:#b4471c}svg{width:100%;height:92px;margin-top:6px}</style>
    <h1>Bed temperatures</h1><div class="sub">Fernhollow Glasshouses · House 2 · 14:05</div><div class="grid">${BEDS.map(
      ([bed, plants, t], i) =>
        `<div class="bed ${t > 25 ? 'hot' : ''}"><b>${bed}</b><span>${plants}</span><div class="t">${t.toFixed(1)}<small> °C</small></div>
       <svg viewBox="0 0 384 100" preserveAspectRatio="none"><polyline points="${curve(i)}" fill="none" stroke="#3c8c54" stroke-width="5"/></svg>
       <div class="bar"><i style="width:${(t - 12) * 6}%"></i></div></div>`,
    ).join('')}</div>`,
};

const ORDERS = [
  ['F-2051', 'Hollow Lane School', '48 trays of lettuce', 'packed'],
  ['F-2052', 'Marrow Street Café', '12 pots of basil', 'to water'],
  ['F-2053', 'Ashby & Thrupp', '6 lemon trees', 'on the van'],
  ['F-2054', 'Lower Mill Gardens', '200 fern plugs', 'packed'],
  ['F-2055', 'Quillfeather Hotel', '30 white orchids', 'hold'],
  ['F-2056', 'Tansy Road Allotments', '15 sacks of compost', 'packed'],
  ['F-2057', 'Oddwell Library', '9 hanging baskets', 'to pot'],
  ['F-2058', 'Saltmarsh Nursery', '120 begonias', 'on the van'],
] as const;

export const ordersList: ContentPage = {
  file: 'orders.png',
  width: 1680,
  height: 1050,
  html: `<style>body{background:#fbfaf6;color:#25241f}header{background:#24443a;color:#f2f5ec;padding:34px 52px;font-size:52px;font-weight:700;display:flex;justify-content:space-between}
    header span{font-size:30px;font-weight:420;align-self:center}table{width:100%;border-collapse:collapse;font-size:33px}td,th{padding:22px 26px;text-align:left;border-bottom:2px solid #dedccf}
    th{font-size:25px;color:#6d6a5c;font-weight:520}td:first-child,th:first-child{padding-left:52px;font-weight:620}tr:nth-child(odd) td{background:#f2f1e8}
    em{font-style:normal;border-radius:22px;padding:7px 22px;background:#dce8d6;font-size:28px}.hold em{background:#f0cfc0}.van em{background:#cfe0ee}</style>
    <header>Orders this week <span>Fernhollow Glasshouses</span></header><table><tr><th>Order</th><th>For</th><th>What</th><th>State</th></tr>${ORDERS.map(
      ([id, who, what, state]) =>
        `<tr class="${state === 'hold' ? 'hold' : state === 'on the van' ? 'van' : ''}"><td>${id}</td><td>${who}</td><td>${what}</td><td><em>${state}</em></td></tr>`,
    ).join('')}</table>`,
};

export const wateringPlan: ContentPage = {
  file: 'watering-plan.png',
  width: 1600,
  height: 900,
  html: `<style>body{background:#12262e;color:#e6f0ee;padding:46px 56px}h1{font-size:54px;margin-bottom:26px}.row{display:flex;align-items:center;font-size:30px;height:82px;border-bottom:2px solid #28444e}
    .row b{width:230px}.line{position:relative;flex:1;height:34px;background:#1c353f;border-radius:6px}.line i{position:absolute;top:0;height:100%;border-radius:6px;background:#58b4c9}</style>
    <h1>Watering plan · Tuesday</h1>${BEDS.map(
      ([bed], i) =>
        `<div class="row"><b>${bed}</b><div class="line">${[0, 1, 2]
          .map((k) => `<i style="left:${(i * 7 + k * 31) % 88}%;width:${5 + ((i * 3 + k * 5) % 8)}%"></i>`)
          .join('')}</div></div>`,
    ).join('')}`,
};

export const pottingRound: ContentPage = {
  file: 'potting-round.png',
  width: 660,
  height: 1320,
  html: `<style>body{background:#f6f3ea;color:#26302a;padding:58px 34px}h1{font-size:58px;font-weight:720}.sub{font-size:27px;color:#6b7561;margin:6px 0 30px}
    .row{display:flex;justify-content:space-between;align-items:center;background:#fff;border:2px solid #dfdacb;border-radius:20px;padding:24px 26px;margin-bottom:18px;font-size:32px}
    .row span{font-size:25px;color:#6b7561;display:block}.row b{font-size:40px;font-weight:640}.done{background:#dde9d6;border-color:#bcd1b1}.go{background:#24443a;color:#f2f5ec;border-radius:26px;text-align:center;font-size:36px;font-weight:640;padding:30px;margin-top:30px}</style>
    <h1>Potting round</h1><div class="sub">Fernhollow Glasshouses · House 2</div>${BEDS.slice(0, 7)
      .map(
        ([bed, plants], i) =>
          `<div class="row ${i < 3 ? 'done' : ''}"><div>${bed}<span>${plants}</span></div><b>${24 + ((i * 17) % 40)}</b></div>`,
      )
      .join('')}<div class="go">Start bed 4</div>`,
};
