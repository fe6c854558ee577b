import proj4 from 'proj4/lib/core';
import Proj from 'proj4/lib/Proj';
import etmerc from 'proj4/lib/projections/etmerc';
import utm from 'proj4/lib/projections/utm';

// Stands in for "proj4" in the page (see vite.config.ts): core asks it for UTM only, and its other thirty projections would be half of a page's load.
Proj.projections.add(etmerc);
Proj.projections.add(utm);

export default proj4;
