package leanladder.server.directory;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Collectors;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Device;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.paging.AccountPage;
import leanladder.server.query.QueryContext;
import org.roaringbitmap.RoaringBitmap;

/** Whose devices stand in the way of a setting, because the app on them is too old: a list to work through. */
public record OutdatedDeviceRoutes(QueryContext.Reader queries) implements RouteGroup {
    /** A setting that devices block. @param need what the device must be, in words @param accounts for how many it is blocked by that */
    public record BlockedByDevices(String setting, String title, List<String> need, int accounts) {}

    /** All of them, those that are blocked for most first. */
    public record OutdatedDevices(List<BlockedByDevices> settings) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/outdated-devices", this::settings, OutdatedDevices.class);
        routeRegistry.get("/outdated-devices/{setting}", this::people, AccountPage.PeopleList.class);
    }

    private Response settings(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        List<BlockedByDevices> blocked = new ArrayList<>();
        for (Setting setting : queryContext.estate().catalogue().settings().values()) {
            List<String> needs = setting.allNeeds()
                    .filter(Need.Device.class::isInstance)
                    .map(queryContext.estateFormatter()::need)
                    .toList();
            if (needs.isEmpty()) continue;
            int accounts = blocked(queryContext, setting).getCardinality();
            if (accounts > 0) blocked.add(new BlockedByDevices(setting.key(), setting.title(), needs, accounts));
        }
        blocked.sort(
                Comparator.comparingInt(BlockedByDevices::accounts).reversed().thenComparing(BlockedByDevices::title));
        return Response.of(new OutdatedDevices(blocked));
    }

    private Response people(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about("limit", "after", "format"));
        QueryContext queryContext = queries.read(queryParameters);
        Setting setting = queryContext.setting(requestContext.path("setting"));
        return Response.of(AccountPage.answer(
                queryParameters,
                queryContext.directory(),
                blocked(queryContext, setting),
                new AccountPage.Extra("devices", OutdatedDeviceRoutes::told)));
    }

    /** Who has a device of the right kind with the app on it, and in no version that is new enough; whatever else is not met. */
    private static RoaringBitmap blocked(QueryContext queryContext, Setting setting) {
        RoaringBitmap blocked = new RoaringBitmap();
        for (Segment<Outcome> segment : queryContext
                .instantResolution()
                .columnResolver()
                .column(setting.key())
                .shares())
            segment.what().blockedBy().stream()
                    .flatMap(Need::flatten)
                    .filter(Need.Device.class::isInstance)
                    .map(Need.Device.class::cast)
                    .filter(need -> need.atLeast().isPresent())
                    .forEach(need -> segment.accounts().forEach((int n) -> {
                        if (queryContext.directory().account(n).devices().stream()
                                .anyMatch(device -> hasSomeVersion(device, need))) blocked.add(n);
                    }));
        return blocked;
    }

    private static boolean hasSomeVersion(Device device, Need.Device need) {
        return (need.kinds().isEmpty() || need.kinds().contains(device.kind()))
                && need.app().filter(device.apps()::containsKey).isPresent();
    }

    /** The devices of an account: "Bridge tablet (tablet: chat 5.1, mail 3.0); phone". */
    private static String told(Account account) {
        return account.devices().stream().map(OutdatedDeviceRoutes::told).collect(Collectors.joining("; "));
    }

    private static String told(Device device) {
        String apps = device.apps().entrySet().stream()
                .map(app -> app.getKey() + " " + app.getValue().text())
                .sorted()
                .collect(Collectors.joining(", "));
        return device.name().map(name -> name + " (" + device.kind()).orElse(device.kind() + " (")
                + (device.name().isPresent() && !apps.isEmpty() ? ": " : "") + apps + ")";
    }
}
