"""The routers of all resources."""

from .resources.apart.router import router as apart
from .resources.bind.router import router as bind
from .resources.cells.router import router as cells
from .resources.copies.router import router as copies
from .resources.drape.router import router as drape
from .resources.events.router import router as events
from .resources.explain.router import router as explain
from .resources.fabrics.router import router as fabrics
from .resources.hand.router import router as hand
from .resources.hunts.router import router as hunts
from .resources.jobs.router import router as jobs
from .resources.lasso.router import router as lasso
from .resources.measures.router import router as measures
from .resources.motions.router import router as motions
from .resources.order.router import router as order
from .resources.origins.router import router as origins
from .resources.outfits.router import router as outfits
from .resources.packs.router import router as packs
from .resources.pictures.router import router as pictures
from .resources.pieces.router import router as pieces
from .resources.place.router import router as place
from .resources.plans.router import router as plans
from .resources.poses.router import router as poses
from .resources.production.router import router as production
from .resources.productions.router import router as productions
from .resources.sewing.router import router as sewing
from .resources.shots.router import router as shots
from .resources.stock.router import router as stock
from .resources.table.router import router as table
from .resources.trials.router import router as trials
from .resources.waivers.router import router as waivers
from .resources.wear.router import router as wear
from .resources.weights.router import router as weights

ROUTERS = (
    apart, bind, cells, copies, drape, events, explain, fabrics, hand, hunts, jobs, lasso, measures, motions, order, origins, outfits,
    packs, pictures, pieces, place, plans, poses, production, productions, sewing, shots, stock, table, trials, waivers, wear, weights,
)
