"""The API with every room's router mounted."""

from server.api.app import make_api
from server.apps.bench.api import router as bench
from server.apps.demo.api import router as demo
from server.apps.drying.api import router as drying
from server.apps.drying.deeds_api import router as deeds
from server.apps.lathe.api import router as lathe
from server.apps.lathe.shape_api import router as shapes
from server.apps.pieces.api import router as pieces
from server.apps.shop.api import account
from server.apps.shop.api import router as shop
from server.apps.today.api import router as today
from server.apps.yard.api import router as yard

api = make_api()
api.add_router("/account", account)
api.add_router("/demo", demo)
api.add_router("/shop", shop)
api.add_router("/yard", yard)
api.add_router("/pieces", pieces)
api.add_router("/drying", deeds)  # its fixed names stand before a tag
api.add_router("/drying", drying)
api.add_router("/lathe", shapes)  # its fixed names stand before a tag
api.add_router("/lathe", lathe)
api.add_router("/bench", bench)
api.add_router("/today", today)
