/* The run of src/irontrail/core/engine/ written plainly in C, as its oracle and its yardstick.
 *
 * Everything is written as one would at first: sine and cosine by the library, the place on the route by looking at
 * every point within reach, laws by a switch. `exact` drives as the engine does; without it every interval is driven in
 * small equal steps, as one would who has no closed form. Left out are zones, shadows, a hand's pull, and sensors that
 * give names. Parameters arrive as an array of doubles in the order of the enum; bench/engine.py fills it. */
#include <math.h>
#include <stdint.h>
#include <stdlib.h>

enum {
    PER_TRACK, LEFT_TOP, RIGHT_TOP, RESPONSE, DEAD_BAND, FRICTION, AHEAD, ASIDE, MAX_STEP,
    LAMP_SHARE, ROOM_SHARE, GLOSS, DARK_LEVEL, NOISE, RAW_STEP, GIVEN_STEP, HIGHEST, LAG, MM_PER_PX, INVERTED,
    LAW, MIXING, CALIBRATE, RAW_PER_GIVEN, DARK, BRIGHT, STEER_SIGN, TARGET, SPEED, EASE_OFF, POWER_STEP,
    STOP_TIME, STOP_DISTANCE, STOP_READING,
    DARK_OUTER, DARK_INNER, LIGHT_OUTER, LIGHT_INNER,
    BAND_COUNT, BAND_BELOW, BAND_LEFT = BAND_BELOW + 8, BAND_RIGHT = BAND_LEFT + 8,
    SLOPED_LIGHT = BAND_RIGHT + 8, MIXED_GAIN, FIXED_STEER,
    GAIN, DARK_RATIO,
    KP, KI, KD, DERIVATIVE_SHARE, INTEGRAL_LIMIT, PERIOD,
    ROUTE_STEP, HALF_TAPE, EDGE_SIGN, MAT_WIDTH, MAT_HEIGHT, FINISH, START_S, TIME_LIMIT, LOST_DISTANCE, STUCK_TIME,
    CLOSED, LOOP_TIME, DELAY, DECISION_LOOPS, START_X, START_Y, START_HEADING, SEED
};
enum { ON_OFF, BANDS, MIXED, PROPORTIONAL, PID };
enum { BOTH, LEFT_ONLY, RIGHT_ONLY, INNER_ONLY };
enum { RUNNING, FINISHED, OFF_MAT, LOST, STUCK, TIME_OUT, STOPPED };

typedef struct { double x, y, h, lr, rr, lu, ru, left_rolled, right_rolled, skid, slide; } Robot;
typedef struct { double integral, derivative, last, p, i, d; int started; } Memory;

static double clamp(double v, double low, double high) { return v < low ? low : v > high ? high : v; }
static double half_away(double v) { return v >= 0 ? floor(v + 0.5) : ceil(v - 0.5); }
static double larger(double a, double b) { return a > b ? a : b; }
static long wrap(long n, long size) { long i = n % size; return i < 0 ? i + size : i; }

/* --- light */

static double uniform(uint64_t *state) {
    *state += 0x9E3779B97F4A7C15ULL;
    uint64_t z = *state;
    z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
    z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
    z ^= z >> 31;
    return ((double)(z >> 11) + 0.5) / 9007199254740992.0;
}

static double normal(uint64_t *state) {
    double first = uniform(state), second = uniform(state);
    return sqrt(-2.0 * log(first)) * cos(2.0 * M_PI * second);
}

static double level(const double *p, const float *field, long rows, long columns, double x, double y) {
    double px = clamp(x / p[MM_PER_PX] - 0.5, 0.0, columns - 1.000001);
    double py = clamp(y / p[MM_PER_PX] - 0.5, 0.0, rows - 1.000001);
    long i = (long)px, j = (long)py;
    double fx = px - i, fy = py - j;
    const float *at = field + j * columns + i;
    double low = at[0] * (1 - fx) + at[1] * fx, high = at[columns] * (1 - fx) + at[columns + 1] * fx;
    double seen = low * (1 - fy) + high * fy;
    return (p[LAMP_SHARE] + p[ROOM_SHARE]) * seen + p[ROOM_SHARE] * p[GLOSS] + p[DARK_LEVEL];
}

static double sense(const double *p, double light, uint64_t *state) {
    double raw = clamp(light + p[NOISE] * normal(state), 0.0, 100.0);
    if (p[INVERTED]) raw = 100.0 - raw;
    return p[RAW_STEP] > 0 ? fmin(p[GIVEN_STEP] * half_away(raw / p[RAW_STEP]), p[HIGHEST]) : raw;
}

/* --- the program */

static double limited(const double *p, double power) {
    return clamp(p[POWER_STEP] * half_away(clamp(power, -100.0, 100.0) / p[POWER_STEP]), -100.0, 100.0);
}

static double steer_of(const double *p, Memory *m, double error, double *rule) {
    int light = error >= 0;
    switch ((int)p[LAW]) {
    case MIXED:
        *rule = light ? 0 : 1;
        if (light == (p[SLOPED_LIGHT] > 0)) return p[MIXED_GAIN] * error;
        return light ? p[FIXED_STEER] : -p[FIXED_STEER];
    case PROPORTIONAL:
        *rule = !light && p[DARK_RATIO] != 1 ? 1 : 0;
        return m->p = p[GAIN] * error * (light ? 1 : p[DARK_RATIO]);
    }
    if (m->started) m->derivative += ((error - m->last) / p[PERIOD] - m->derivative) * p[DERIVATIVE_SHARE];
    m->last = error;
    m->started = 1;
    m->integral += error * p[PERIOD];
    if (p[KI] > 0) m->integral = clamp(m->integral, -p[INTEGRAL_LIMIT] / p[KI], p[INTEGRAL_LIMIT] / p[KI]);
    m->p = p[KP] * error;
    m->i = p[KI] * m->integral;
    m->d = p[KD] * m->derivative;
    *rule = 0;
    return m->p + m->i + m->d;
}

static void decide(const double *p, Memory *m, double reading, double *rule, double *left, double *right) {
    double one, other, error = reading - p[TARGET];
    m->p = m->i = m->d = 0;
    if (p[LAW] == ON_OFF || p[LAW] == BANDS) {
        if (p[LAW] == ON_OFF) {
            int light = reading >= p[TARGET];
            *rule = light ? 0 : 1;
            one = light ? p[LIGHT_OUTER] : p[DARK_INNER];
            other = light ? p[LIGHT_INNER] : p[DARK_OUTER];
        } else {
            int i = 0;
            while (i < p[BAND_COUNT] - 1 && !(reading < p[BAND_BELOW + i])) i++;
            *rule = i;
            one = p[BAND_LEFT + i];
            other = p[BAND_RIGHT + i];
        }
        *left = p[STEER_SIGN] > 0 ? one : other;
        *right = p[STEER_SIGN] > 0 ? other : one;
        return;
    }
    double steer = p[STEER_SIGN] * steer_of(p, m, error, rule);
    double speed = p[SPEED] * (1 - p[EASE_OFF] * fmin(1.0, fabs(error) / 50.0));
    *left = speed;
    *right = speed;
    if (p[MIXING] == BOTH || p[MIXING] == LEFT_ONLY) *left += steer;
    if (p[MIXING] == BOTH || p[MIXING] == RIGHT_ONLY) *right -= steer;
    if (p[MIXING] == INNER_ONLY) { *left += fmin(steer, 0.0); *right -= fmax(steer, 0.0); }
}

/* --- motion */

static void slip(const double *p, Robot *r, double lt, double rt, double length) {
    long steps = (long)larger(1, ceil(length / p[MAX_STEP] - 1e-9));
    double dt = length / steps, most = p[FRICTION] * dt, response = p[RESPONSE] > 0 ? 1 - exp(-dt / p[RESPONSE]) : 1;
    for (long k = 0; k < steps; k++) {
        double l0 = r->lu, r0 = r->ru, lr0 = r->lr, rr0 = r->rr;
        r->lr += (lt - r->lr) * response;
        r->rr += (rt - r->rr) * response;
        r->lu = fabs(r->lr - l0) <= most ? r->lr : l0 + (r->lr > l0 ? most : -most);
        r->ru = fabs(r->rr - r0) <= most ? r->rr : r0 + (r->rr > r0 ? most : -most);
        if (fabs(r->lr - r->lu) > 5.0) r->skid += 0.5 * fabs(r->lr - r->lu) * dt;
        if (fabs(r->rr - r->ru) > 5.0) r->skid += 0.5 * fabs(r->rr - r->ru) * dt;
        double lm = 0.5 * (l0 + r->lu), rm = 0.5 * (r0 + r->ru), v = 0.5 * (lm + rm), w = (rm - lm) * p[PER_TRACK];
        if (fabs(v * w) > p[FRICTION]) {
            double held = p[FRICTION] / fabs(v);
            r->slide += (fabs(w) - held) * dt;
            w = w > 0 ? held : -held;
        }
        r->x += v * cos(r->h + 0.5 * w * dt) * dt;
        r->y += v * sin(r->h + 0.5 * w * dt) * dt;
        r->h += w * dt;
        r->left_rolled += 0.5 * (lr0 + r->lr) * dt;
        r->right_rolled += 0.5 * (rr0 + r->rr) * dt;
    }
}

static void roll(const double *p, Robot *r, double lt, double rt, double length, long panels) {
    double node[3] = {0.5 - sqrt(0.15), 0.5, 0.5 + sqrt(0.15)}, weight[3] = {5.0 / 18, 8.0 / 18, 5.0 / 18};
    double h = length / panels, tau = p[RESPONSE], v = 0.5 * (lt + rt), w = (rt - lt) * p[PER_TRACK];
    double whole = tau > 0 ? exp(-h / tau) : 0;
    for (long k = 0; k < panels; k++) {
        double lo = r->lr - lt, ro = r->rr - rt, vo = 0.5 * (lo + ro), wo = (ro - lo) * p[PER_TRACK];
        for (int i = 0; i < 3; i++) {
            double decay = tau > 0 ? exp(-node[i] * h / tau) : 0;
            double heading = r->h + w * node[i] * h + tau * wo * (1 - decay), way = h * weight[i] * (v + vo * decay);
            r->x += way * cos(heading);
            r->y += way * sin(heading);
        }
        r->h += w * h + tau * wo * (1 - whole);
        r->left_rolled += lt * h + lo * tau * (1 - whole);
        r->right_rolled += rt * h + ro * tau * (1 - whole);
        r->lr = r->lu = lt + lo * whole;
        r->rr = r->ru = rt + ro * whole;
    }
}

static void drive(const double *p, Robot *r, double left, double right, double length, int exact) {
    double lt = fabs(left) >= p[DEAD_BAND] ? p[LEFT_TOP] * left / 100.0 : 0.0;
    double rt = fabs(right) >= p[DEAD_BAND] ? p[RIGHT_TOP] * right / 100.0 : 0.0;
    double tau = p[RESPONSE], lo = r->lr - lt, ro = r->rr - rt, decay = tau > 0 ? exp(-length / tau) : 0;
    double panels = ceil((fabs(p[LEFT_TOP]) + fabs(p[RIGHT_TOP])) * p[PER_TRACK] * length / 0.25);
    if (tau > 0) panels = larger(panels, fmin(ceil(length / (0.5 * tau)), 8.0));
    double le = lt + lo * decay, re = rt + ro * decay;
    double fastest = 0.5 * larger(fabs(r->lu + r->ru), fabs(le + re));
    double turning = larger(fabs(r->ru - r->lu), fabs(re - le)) * p[PER_TRACK];
    if (exact && r->lr == r->lu && r->rr == r->ru && larger(fabs(lo), fabs(ro)) <= p[FRICTION] * tau &&
        fastest * turning <= p[FRICTION])
        roll(p, r, lt, rt, length, (long)larger(panels, 1));
    else
        slip(p, r, lt, rt, length);
}

/* --- the route */

static double find(const double *p, const double *rx, const double *ry, long n, double *s, double x, double y,
                   double moved) {
    long segments = n - 1, middle = (long)floor(*s / p[ROUTE_STEP]), reach, first, last, nearest, i;
    int closed = p[CLOSED] != 0;
    double best2 = INFINITY, best = INFINITY, across = 0, length2 = 1;
    reach = (long)ceil((60.0 + moved) / p[ROUTE_STEP]) + 1;
    first = middle - reach;
    last = middle + reach + 1;
    if (closed) { if (last > first + segments) last = first + segments; }
    else {
        first = first < 0 ? 0 : first > segments ? segments : first;
        last = last < 0 ? 0 : last > segments ? segments : last;
    }
    nearest = first;
    i = closed ? wrap(first, segments) : first;
    for (long k = first; k <= last; k++) {
        if (closed && i == segments) i = 0;
        double dx = x - rx[i], dy = y - ry[i], d2 = dx * dx + dy * dy;
        if (d2 < best2) { best2 = d2; nearest = k; }
        i++;
    }
    for (long k = nearest - 1; k <= nearest; k++) {
        if (!closed && (k < 0 || k >= segments)) continue;
        i = closed ? wrap(k, segments) : k;
        double dx = rx[i + 1] - rx[i], dy = ry[i + 1] - ry[i], ox = x - rx[i], oy = y - ry[i];
        double own2 = dx * dx + dy * dy, share = clamp((ox * dx + oy * dy) / own2, 0.0, 1.0);
        double d = sqrt((ox - share * dx) * (ox - share * dx) + (oy - share * dy) * (oy - share * dy));
        if (k == nearest && share == 0 && fabs(d - best) <= 1e-9)
            across = across / sqrt(length2) + (dx * oy - dy * ox) / sqrt(own2);
        else if (d < best) { best = d; across = dx * oy - dy * ox; length2 = own2; *s = (k + share) * p[ROUTE_STEP]; }
    }
    return across >= 0 ? best : -best;
}

/* Fills trace (18 columns, each `most` long) and returns the rows used; *end is the time, *outcome the engine's code. */
long run(const double *p, const float *field, long frows, long fcolumns, const double *rx, const double *ry, long n,
         double *trace, long most, double *end, long *outcome, int exact) {
    double loop = p[LOOP_TIME], rest, time, at = 0, seen = 0, arrived = INFINITY;
    long late = (long)(p[DELAY] / loop + 1e-9), row = 0, kept = late + 1;
    int slow = p[LAG] > 0, watched = loop > 0.01;
    rest = p[DELAY] - late * loop;
    if (rest < 1e-9 * loop) rest = 0;
    double longest = slow ? 0.001 : 0.01, length[2];
    long count[2] = {(long)ceil((loop - rest) / longest - 1e-9), (long)ceil(rest / longest - 1e-9)};
    length[0] = (loop - rest) / count[0];
    length[1] = rest / larger(count[1], 1);
    Robot r = {p[START_X], p[START_Y], p[START_HEADING], 0, 0, 0, 0, 0, 0, 0, 0};
    Memory m = {0, 0, 0, 0, 0, 0, 0};
    double x = r.x + p[AHEAD] * cos(r.h) - p[ASIDE] * sin(r.h), y = r.y + p[AHEAD] * sin(r.h) + p[ASIDE] * cos(r.h);
    double s = p[START_S], stirred = 0, stirred_s = s, edge, lagged, light, skid = 0;
    edge = p[EDGE_SIGN] * find(p, rx, ry, n, &s, x, y, 0) - p[HALF_TAPE];
    light = lagged = level(p, field, frows, fcolumns, x, y);
    double *samples = malloc(kept * sizeof *samples), sx = x, sy = y;
    for (long i = 0; i < kept; i++) samples[i] = light;
    uint64_t state = (uint64_t)p[SEED];
    double given = 0, reading = 0, wl = 0, wr = 0, left = 0, right = 0, rule = 0;
    *outcome = RUNNING;
    for (;;) {
        time = row * loop;
        if (sx < 0 || sy < 0 || sx > p[MAT_WIDTH] || sy > p[MAT_HEIGHT]) *outcome = OFF_MAT;
        else if (fabs(edge) > p[LOST_DISTANCE]) *outcome = LOST;
        else if (arrived < INFINITY) *outcome = FINISHED;
        else if (time - stirred >= p[STUCK_TIME]) *outcome = STUCK;
        else if (time >= p[TIME_LIMIT] - 1e-9) *outcome = TIME_OUT;
        if (row % (long)p[DECISION_LOOPS] == 0) {
            given = sense(p, samples[row % kept], &state);
            reading = fmin(given * p[RAW_PER_GIVEN], 100.0);
            if (p[CALIBRATE]) reading = clamp(100.0 * (reading - p[DARK]) / (p[BRIGHT] - p[DARK]), 0.0, 100.0);
            decide(p, &m, reading, &rule, &wl, &wr);
            left = limited(p, wl);
            right = limited(p, wr);
            int stop = (p[STOP_TIME] > 0 && time >= p[STOP_TIME] - 1e-9) ||
                       (p[STOP_DISTANCE] > 0 && 0.5 * (r.left_rolled + r.right_rolled) >= p[STOP_DISTANCE]) ||
                       (p[STOP_READING] > 0 && reading >= p[STOP_READING]);
            if (stop && *outcome == RUNNING) *outcome = STOPPED;
        }
        double values[18] = {time, r.x, r.y, r.h, given, reading, 0.5 * (wl - wr), left, right, r.lu, r.ru,
                             s - p[START_S], edge, r.skid > skid, rule, p[STEER_SIGN] * m.p, p[STEER_SIGN] * m.i,
                             p[STEER_SIGN] * m.d};
        for (int c = 0; c < 18; c++) trace[c * most + row] = values[c];
        skid = r.skid;
        row++;
        if (*outcome || row >= most) break;
        at = time;
        for (int part = 0; part < 2; part++) {
            for (long k = 0; k < count[part]; k++) {
                drive(p, &r, left, right, length[part], exact);
                at += length[part];
                int last = (part == 1 || count[1] == 0) && k + 1 == count[part];
                x = r.x + p[AHEAD] * cos(r.h) - p[ASIDE] * sin(r.h);
                y = r.y + p[AHEAD] * sin(r.h) + p[ASIDE] * cos(r.h);
                if (slow) {
                    double now = level(p, field, frows, fcolumns, x, y), slope = (now - light) / length[part];
                    lagged = now - slope * p[LAG] + (lagged - light + slope * p[LAG]) * exp(-length[part] / p[LAG]);
                    light = now;
                }
                if (watched || last) {
                    double before = s, when = watched ? at : row * loop;
                    edge = p[EDGE_SIGN] * find(p, rx, ry, n, &s, x, y, hypot(x - sx, y - sy)) - p[HALF_TAPE];
                    sx = x;
                    sy = y;
                    if (s - stirred_s >= 5.0) { stirred = when; stirred_s = s; }
                    if (s >= p[FINISH] && arrived == INFINITY)
                        arrived = seen + (s > before ? clamp((p[FINISH] - before) / (s - before), 0, 1) : 1) * (when - seen);
                    seen = when;
                }
            }
            if (part == 0) samples[(row - 1) % kept] = slow ? lagged : level(p, field, frows, fcolumns, x, y);
        }
    }
    *end = *outcome == FINISHED ? arrived : time;
    if (*outcome == RUNNING) *outcome = TIME_OUT;
    free(samples);
    return row;
}
