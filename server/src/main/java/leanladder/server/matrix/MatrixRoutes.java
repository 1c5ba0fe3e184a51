package leanladder.server.matrix;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.estate.Estate;
import leanladder.estate.Target;
import leanladder.estate.Unit;
import leanladder.json.JsonCursor;
import leanladder.reach.UnitTree;
import leanladder.ripple.Ripple;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.JsonWriter;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.matrix.Matrix.Filter;
import leanladder.server.matrix.Matrix.Layout;
import leanladder.server.query.QueryContext;
import leanladder.server.state.RebasedDraft;

/** The matrix, asked for in windows of rows. */
public record MatrixRoutes(QueryContext.Reader queries) implements RouteGroup {
    private static final int MOST_ROWS = 500;
    private static final int MOST_COLUMNS = 300;
    private static final Map<String, Filter> FILTERS = Arrays.stream(Filter.values())
            .filter(f -> f != Filter.ALL)
            .collect(Collectors.toUnmodifiableMap(JsonWriter::word, Function.identity()));

    /** A matrix is kept for its layout and the ripple that is marked in it. */
    private record Key(Layout layout, Optional<Ripple> ripple) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.postReadOnly("/matrix", this::matrix, Matrix.MatrixView.class);
    }

    private Response matrix(RequestContext requestContext) throws IOException {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about("format"));
        boolean csv = queryParameters.isCsv();
        QueryContext queryContext = queries.read(queryParameters);
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        Optional<Target> find = jsonRequestBody.root().member("find").flatMap(p -> target(p, queryContext.estate()));
        List<String> opened = find.map(target -> above(target, queryContext)).orElse(List.of());
        Layout layout = read(jsonRequestBody.root(), queryContext, opened);
        Matrix.MatrixWindow matrixWindow = new Matrix.MatrixWindow(
                number(jsonRequestBody.root(), "from", 0, Integer.MAX_VALUE),
                number(jsonRequestBody.root(), "count", 100, MOST_ROWS),
                Math.min(
                        number(jsonRequestBody.root(), "firstColumn", 0, MOST_COLUMNS),
                        layout.settings().size()),
                number(jsonRequestBody.root(), "columns", MOST_COLUMNS, MOST_COLUMNS));
        jsonRequestBody.refuseDefects();
        Optional<Ripple> ripple = queryContext.draft().map(RebasedDraft::ripple);
        Matrix matrix = queryContext
                .instantResolution()
                .view(new Key(layout, ripple), () -> new Matrix(queryContext, layout, ripple));
        return Response.of(csv ? matrix.csvResponse() : matrix.window(matrixWindow, find, opened));
    }

    private static Optional<Target> target(JsonCursor find, Estate estate) {
        Optional<Target> target = find.text().flatMap(Target::parse).filter(estate::has);
        if (target.isEmpty()) find.defect("must be unit:ID, group:ID or account:ID of one that exists");
        return target;
    }

    /** The units that have to be open so that a row is there. */
    private static List<String> above(Target target, QueryContext queryContext) {
        UnitTree tree = queryContext.directory().tree();
        List<String> path = new ArrayList<>();
        if (target instanceof Target.UnitTarget unit)
            tree.path(unit.id()).stream()
                    .map(Unit::id)
                    .filter(id -> !id.equals(unit.id()))
                    .forEach(path::add);
        if (target instanceof Target.AccountTarget account)
            queryContext
                    .estate()
                    .account(account.id())
                    .ifPresent(a -> tree.path(a.unit()).forEach(u -> path.add(u.id())));
        return path;
    }

    private static Layout read(JsonCursor root, QueryContext queryContext, List<String> opened) {
        List<Setting> settings = new ArrayList<>();
        if (root.isObject()) {
            List<JsonCursor> keys =
                    root.required("settings").map(JsonCursor::items).orElse(List.of());
            if (keys.size() > MOST_COLUMNS)
                root.member("settings").orElseThrow().defect("must not name more than " + MOST_COLUMNS + " settings");
            for (JsonCursor key : keys)
                key.text()
                        .ifPresent(k -> queryContext
                                .estate()
                                .catalogue()
                                .setting(k)
                                .ifPresentOrElse(settings::add, () -> key.defect("names no setting of the catalogue")));
        }
        boolean groups = root.member("rows")
                .flatMap(p -> p.word(Map.of("units", false, "groups", true)))
                .orElse(false);
        Set<String> open = new HashSet<>();
        Optional<String> whole = root.member("open")
                .filter(p -> p.node().isTextual())
                .flatMap(p -> p.word(Map.of("all", "all", "units", "units")));
        if (whole.isEmpty())
            for (JsonCursor id : root.member("open")
                    .filter(p -> !p.node().isTextual())
                    .map(JsonCursor::items)
                    .orElse(List.of())) id.text().ifPresent(open::add);
        Set<String> shut = new HashSet<>();
        for (JsonCursor id : root.items("shut")) id.text().ifPresent(shut::add);
        open.addAll(opened);
        opened.forEach(shut::remove);
        Filter filter = root.member("filter")
                .filter(p -> !p.node().isNull())
                .flatMap(p -> p.word(FILTERS))
                .orElse(Filter.ALL);
        return new Layout(
                settings,
                groups,
                whole.equals(Optional.of("all")),
                whole.equals(Optional.of("units")),
                open,
                shut,
                filter);
    }

    private static int number(JsonCursor root, String name, int otherwise, int most) {
        return root.member(name)
                .flatMap(JsonCursor::integer)
                .map(n -> n.bitLength() > 31 ? most : Math.max(0, Math.min(most, n.intValue())))
                .orElse(otherwise);
    }
}
