import Foundation
import MachO
#if canImport(MetricKit)
import MetricKit
#endif
#if canImport(UIKit)
import UIKit
#endif

/// Reports what nobody caught to a Rough Ember server: one file to copy into any app of Apple's systems, Swift 5.5, no dependencies. A crash is
/// written to a folder of the app at once, and sent when the app is started again; what killed it by a signal, and hangs, the system tells at a
/// later launch.
///
///     EmberReporter.install(.init(server: "https://ember.example", key: "intake_…"))
///
/// Not compiled by the tests of Rough Ember, which have no compiler for it: a parser reads it.
public final class EmberReporter: NSObject {
  /// Texts, numbers, booleans, or lists and dictionaries of those.
  public typealias Values = [String: Any]

  /// What the reporter must know. Version and build are those of the bundle unless told.
  public struct Options {
    let server: String
    let key: String
    public var version = Bundle.main.object(forInfoDictionaryKey: "CFBundleShortVersionString") as? String ?? "unknown"
    public var build = Bundle.main.object(forInfoDictionaryKey: "CFBundleVersion") as? String ?? "unknown"
    /// With "debug" nothing is collected unless `inDebugBuilds` is set.
    public var buildType = Options.typeOfThisBuild
    public var inDebugBuilds = false
    public var personId: String?
    /// Share of each kind ("crash", "hang", "error") that is sent, from 0 to 1; all unless told. Sessions are always sent; "trail" is the
    /// share of them that tell what happened in them though nothing went wrong, 0.1 unless told.
    public var sample: [String: Double] = [:]
    /// Asked at the moment of a crash or error; gives the app's own state.
    public var stateAtCrash: (() -> Values)?
    /// Looks at each item before it is kept; nil keeps nothing of it.
    public var beforeSend: ((Values) -> Values?)?
    /// Prints what would be sent, and sends nothing.
    public var dryRun = false
    /// A folder of the app's own; it is made when it does not exist.
    public var folder = FileManager.default.urls(for: .applicationSupportDirectory, in: .userDomainMask)[0].appendingPathComponent("ember")

    public init(server: String, key: String) {
      self.server = server.hasSuffix("/") ? String(server.dropLast()) : server
      self.key = key
    }

    private static var typeOfThisBuild: String {
      #if DEBUG
      return "debug"
      #else
      return "release"
      #endif
    }
  }

  private enum Most {
    static let files = 40, batchFiles = 20, trail = 100, frames = 500, named = 100, screens = 200, requests = 100
    static let name = 300, message = 16_000
    /// Away for longer, and coming back begins another session.
    static let awaySeconds = 60.0
  }

  /// The one that was installed: what Objective-C calls when nothing caught an exception takes nothing with it.
  private static var installed: EmberReporter?
  private static var earlierHandler: NSUncaughtExceptionHandler?

  private let options: Options
  /// It is off: a debug build, or something went wrong at its start. Every call is taken, and nothing happens.
  private let isOff: Bool
  /// Held while something is sent, and never while the app waits.
  private let sending = DispatchQueue(label: "ember-reporter", qos: .utility)
  /// A lock that one thread may take twice: what the app tells of its state may report something itself.
  private let state = NSRecursiveLock()
  public let installationId: String
  public private(set) var sessionId = UUID().uuidString.lowercased()
  private var startedAt = EmberReporter.now()
  private var began = ProcessInfo.processInfo.systemUptime
  private var awaySince: TimeInterval?
  private var sequence = 0
  private var trail: [Values] = []
  private var screens: [String: Int] = [:]
  private var requests: [String: RequestCounts] = [:]
  private var attributes: Values = [:]
  private var flags: [String: String] = [:]
  private var personId: String?
  private var contact: String?
  private var asksState = false
  private var toldRefusal = false

  private struct RequestCounts {
    let method: String, host: String, path: String
    var count = 0, failed = 0
    var durations: [Int: Int] = [:]
  }

  private init(_ options: Options, isOff: Bool) {
    self.options = options
    self.isOff = isOff
    personId = options.personId
    installationId = isOff ? UUID().uuidString.lowercased() : EmberReporter.installation(in: options.folder)
    super.init()
  }

  /// Starts reporting; sends what the last launch left in the background. Gives a reporter that does nothing when this build is not to report,
  /// and when it cannot.
  @discardableResult
  public static func install(_ options: Options) -> EmberReporter {
    if options.buildType == "debug" && !options.inDebugBuilds { return idle(options, "debug builds are not reported") }
    do {
      try FileManager.default.createDirectory(at: options.folder, withIntermediateDirectories: true)
    } catch {
      // An app must run without its reporter.
      return idle(options, "\(error)")
    }
    let reporter = EmberReporter(options, isOff: false)
    installed = reporter
    earlierHandler = NSGetUncaughtExceptionHandler()
    NSSetUncaughtExceptionHandler { exception in
      EmberReporter.installed?.keep(exception)
      EmberReporter.earlierHandler?(exception)
    }
    reporter.write("session", reporter.session("open"))
    reporter.listen()
    reporter.sendInBackground()
    return reporter
  }

  private static func idle(_ options: Options, _ why: String) -> EmberReporter {
    tell("is off: \(why)")
    return EmberReporter(options, isOff: true)
  }

  /// What its developer should know.
  private static func tell(_ words: String) {
    NSLog("Rough Ember %@", words)
  }

  // MARK: What the app tells

  /// Reports an error that the app handled, with the stack of the caller, and goes on.
  public func report(_ error: Error) {
    if isOff { return }
    let stack = Thread.callStackReturnAddresses.dropFirst().map { $0.uint64Value }
    let told = error as NSError
    // Every error is one of Foundation's as well; those that are no more are told by their domain and code.
    let isOfFoundation = Swift.type(of: error as Any) is NSError.Type
    let name = isOfFoundation ? "\(told.domain) \(told.code)" : String(reflecting: Swift.type(of: error))
    let message = isOfFoundation ? told.localizedDescription : String(describing: error)
    var exceptions = [exception(type: name, message: message, frames: stack)]
    var cause = told.userInfo[NSUnderlyingErrorKey] as? NSError
    while let one = cause, exceptions.count < 10 {
      var item = exception(type: "\(one.domain) \(one.code)", message: one.localizedDescription, frames: [])
      item["relation"] = "cause"
      item["parent"] = exceptions.count - 1
      exceptions.append(item)
      cause = one.userInfo[NSUnderlyingErrorKey] as? NSError
    }
    keep(kind: "error", exceptions: exceptions)
    sendInBackground()
  }

  /// Says which screen is shown now.
  public func screen(_ given: String) {
    let name = String(given.prefix(Most.name))
    if name.isEmpty { return }
    note("screen", ["name": name])
    state.lock()
    defer { state.unlock() }
    if screens[name] != nil || screens.count < Most.screens { screens[name, default: 0] += 1 }
  }

  /// Says how a request went. `path` is a template such as "/tiles/{zoom}/{x}", never with a query; `status` is nil when no answer came.
  public func request(method: String, host: String, path: String, status: Int?, durationMs: Int) {
    var event: Values = ["method": String(method.prefix(20)), "host": String(host.prefix(Most.name)), "path": String(path.prefix(1_000)),
                         "durationMs": max(0, durationMs)]
    if let status = status { event["status"] = status }
    note("request", event)
    state.lock()
    defer { state.unlock() }
    let name = "\(method) \(host)\(path)"
    if requests[name] == nil && requests.count >= Most.requests { return }
    var counts = requests[name] ?? RequestCounts(method: String(method.prefix(20)), host: String(host.prefix(Most.name)), path: String(path.prefix(300)))
    counts.count += 1
    if status == nil || status! >= 400 { counts.failed += 1 }
    // Buckets from 2^(bucket/8) up to 2^((bucket+1)/8) milliseconds.
    let bucket = Int((8 * log2(Double(max(1, durationMs)))).rounded(.up)) - 1
    counts.durations[min(239, max(0, bucket)), default: 0] += 1
    requests[name] = counts
  }

  /// Says how a task of a URL session went: from its delegate's `urlSession(_:task:didFinishCollecting:)`.
  public func request(_ task: URLSessionTask, _ metrics: URLSessionTaskMetrics) {
    guard let asked = task.originalRequest, let url = asked.url, let host = url.host else { return }
    let status = (task.response as? HTTPURLResponse)?.statusCode
    let ms = Int(metrics.taskInterval.duration * 1_000)
    request(method: asked.httpMethod ?? "GET", host: host, path: EmberReporter.pathTemplate(url.path), status: status, durationMs: ms)
  }

  /// A line of the app's log; level is debug, info, warn or error.
  public func log(_ level: String, _ message: String) {
    note("log", ["level": level, "message": String(message.prefix(2_000))])
  }

  /// Something of the app's own, with values or without.
  public func custom(_ name: String, _ values: Values = [:]) {
    if !name.isEmpty { note("custom", ["name": String(name.prefix(Most.name)), "attributes": values]) }
  }

  /// Something that happened to the app: "foreground", "background", "low-memory". What UIKit tells is noted by itself.
  public func lifecycle(_ what: String) {
    note("lifecycle", ["state": String(what.prefix(Most.name))])
    if isOff { return }
    if what == "background" { wentAway() }
    if what == "foreground" { cameBack() }
  }

  /// A value that reports and the session are told with: a text, number, boolean, or a list of those; nil takes it back.
  public func attribute(_ name: String, _ value: Any?) {
    state.lock()
    defer { state.unlock() }
    let known = String(name.prefix(Most.name))
    if value == nil || attributes[known] != nil || attributes.count < Most.named { attributes[known] = value }
  }

  /// A feature flag or experiment, with the variant that it has from now on; nil takes it back.
  public func flag(_ name: String, _ variant: String?) {
    let known = String(name.prefix(Most.name))
    state.lock()
    if variant == nil || flags[known] != nil || flags.count < Most.named { flags[known] = variant.map { String($0.prefix(200)) } }
    state.unlock()
    note("flag", ["name": known, "variant": String((variant ?? "none").prefix(200))])
  }

  /// Who uses the app from now on, by the id that the app knows them by; nil for nobody it knows.
  public func person(_ id: String?) {
    state.lock()
    personId = id
    state.unlock()
  }

  /// How the person can be reached, if they left it.
  public func contact(_ how: String?) {
    state.lock()
    contact = how.map { String($0.prefix(Most.name)) }
    state.unlock()
  }

  /// Says that the session is over. What waits is sent in the background, or else at the next launch.
  public func end() {
    if isOff { return }
    write("session", session("ended"))
    sendInBackground()
  }

  // MARK: What the system tells

  private func listen() {
    #if canImport(UIKit) && !os(watchOS)
    let center = NotificationCenter.default
    center.addObserver(forName: UIApplication.didEnterBackgroundNotification, object: nil, queue: nil) { [weak self] _ in
      self?.lifecycle("background")
      self?.sendInBackground()
    }
    center.addObserver(forName: UIApplication.willEnterForegroundNotification, object: nil, queue: nil) { [weak self] _ in
      self?.lifecycle("foreground")
    }
    center.addObserver(forName: UIApplication.didReceiveMemoryWarningNotification, object: nil, queue: nil) { [weak self] _ in
      self?.lifecycle("low-memory")
    }
    center.addObserver(forName: UIApplication.willTerminateNotification, object: nil, queue: nil) { [weak self] _ in
      self?.end()
    }
    #endif
    #if canImport(MetricKit) && (os(iOS) || os(macOS) || os(visionOS))
    if #available(iOS 14.0, macOS 12.0, *) { MXMetricManager.shared.add(self) }
    #endif
  }

  /// In the background the app may be ended without a word, so what is known of its session is written down.
  private func wentAway() {
    state.lock()
    awaySince = ProcessInfo.processInfo.systemUptime
    state.unlock()
    write("session", session("open"))
  }

  private func cameBack() {
    state.lock()
    let away = awaySince.map { ProcessInfo.processInfo.systemUptime - $0 } ?? 0
    let isAnother = away > Most.awaySeconds
    if !isAnother { awaySince = nil }
    state.unlock()
    if !isAnother { return }
    write("session", session("ended"))
    state.lock()
    awaySince = nil
    sessionId = UUID().uuidString.lowercased()
    startedAt = EmberReporter.now()
    began = ProcessInfo.processInfo.systemUptime
    sequence = 0
    screens = [:]
    requests = [:]
    state.unlock()
    write("session", session("open"))
    sendInBackground()
  }

  /// An exception of Objective-C that nothing caught.
  private func keep(_ thrown: NSException) {
    let stack = thrown.callStackReturnAddresses.map { $0.uint64Value }
    keep(kind: "crash", exceptions: [exception(type: thrown.name.rawValue, message: thrown.reason ?? "", frames: stack)])
  }

  private func keep(kind: String, exceptions: [Values]) {
    let share = options.sample[kind] ?? 1
    if Double.random(in: 0..<1) < share {
      var item = context()
      item["type"] = "report"
      item["id"] = UUID().uuidString.lowercased()
      item["kind"] = kind
      item["occurredAt"] = EmberReporter.now()
      if share < 1 { item["samplePercent"] = 100 * share }
      let thread: Values = ["name": Thread.isMainThread ? "main" : Thread.current.name ?? "", "crashed": true]
      item["threads"] = [thread]
      item["exceptions"] = exceptions
      item["images"] = EmberReporter.images
      let told = stateNow()
      state.lock()
      item["sessionId"] = sessionId
      item["trail"] = trail
      item["flags"] = flags
      item["attributes"] = attributes.merging(told) { _, new in new }
      state.unlock()
      write("report", item)
    }
    // Whether its report is kept or not, it happened.
    if kind == "crash" { write("session", session("crashed")) }
  }

  /// What the app says of its state; nothing while it is saying it, for what is reported meanwhile would ask again without end.
  private func stateNow() -> Values {
    state.lock()
    defer { state.unlock() }
    guard let ask = options.stateAtCrash, !asksState else { return [:] }
    asksState = true
    defer { asksState = false }
    return ask()
  }

  private func exception(type: String, message: String, frames: [UInt64]) -> Values {
    ["type": String(type.prefix(Most.name)), "message": String(message.prefix(Most.message)),
     "frames": frames.prefix(Most.frames).map { ["runtime": "native", "address": EmberReporter.hexadecimal($0)] }]
  }

  /// The images that are loaded, which the server finds symbol files for: UUID, place and size of code.
  private static var images: [Values] {
    (0..<_dyld_image_count()).compactMap { index in
      guard let header = _dyld_get_image_header(index), let path = _dyld_get_image_name(index) else { return nil }
      var told: Values = ["name": String(cString: path), "loadAddress": hexadecimal(UInt64(UInt(bitPattern: header)))]
      var command = UnsafeRawPointer(header).advanced(by: header.pointee.magic == MH_MAGIC_64 ? MemoryLayout<mach_header_64>.size : MemoryLayout<mach_header>.size)
      for _ in 0..<header.pointee.ncmds {
        let known = command.load(as: load_command.self)
        if known.cmd == UInt32(LC_UUID) {
          let uuid = command.load(as: uuid_command.self).uuid
          told["symbolId"] = UUID(uuid: uuid).uuidString.replacingOccurrences(of: "-", with: "").lowercased()
        }
        if known.cmd == UInt32(LC_SEGMENT_64) {
          let segment = command.load(as: segment_command_64.self)
          if segment.initprot & VM_PROT_EXECUTE != 0 { told["sizeBytes"] = Int(segment.vmsize) }
        }
        command = command.advanced(by: Int(known.cmdsize))
      }
      return told
    }
  }

  // MARK: Items

  private func note(_ kind: String, _ rest: Values) {
    if isOff { return }
    var event = rest
    event["kind"] = kind
    event["at"] = EmberReporter.now()
    state.lock()
    defer { state.unlock() }
    trail.append(event)
    if trail.count > Most.trail { trail.removeFirst() }
  }

  private func session(_ how: String) -> Values {
    state.lock()
    defer { state.unlock() }
    var item = context()
    item["type"] = "session"
    item["id"] = sessionId
    item["sequence"] = sequence
    item["at"] = EmberReporter.now()
    item["startedAt"] = startedAt
    item["state"] = how
    // What was spent in the background belongs to nobody's use.
    item["durationMs"] = Int(((awaySince ?? ProcessInfo.processInfo.systemUptime) - began) * 1_000)
    item["flags"] = flags
    item["attributes"] = attributes
    item["screens"] = screens.map { one -> Values in ["name": one.key, "visits": one.value] }
    item["requests"] = requests.values.map { one -> Values in
      ["method": one.method, "host": one.host, "path": one.path, "count": one.count, "failed": one.failed,
       "durations": one.durations.map { ["bucket": $0.key, "count": $0.value] }]
    }
    // By its id, so that all of its items agree on whether they tell it.
    if let drawn = Int(sessionId.prefix(4), radix: 16), Double(drawn) < (options.sample["trail"] ?? 0.1) * 65_536 { item["trail"] = trail }
    sequence += 1
    return item
  }

  /// What every item says of the app, the device and its surroundings.
  private func context() -> Values {
    state.lock()
    defer { state.unlock() }
    var device: Values = ["manufacturer": "Apple", "model": EmberReporter.model,
                          "memory": ["totalBytes": Int(ProcessInfo.processInfo.physicalMemory)]]
    if let disk = try? FileManager.default.attributesOfFileSystem(forPath: options.folder.path),
       let total = disk[.systemSize] as? Int, let free = disk[.systemFreeSize] as? Int {
      device["disk"] = ["totalBytes": total, "freeBytes": free]
    }
    #if targetEnvironment(simulator)
    device["emulator"] = true
    #else
    device["emulator"] = false
    #endif
    let system = ProcessInfo.processInfo.operatingSystemVersion
    var item: Values = ["version": options.version, "build": options.build, "buildType": options.buildType,
                        "os": ["name": EmberReporter.systemName, "version": "\(system.majorVersion).\(system.minorVersion).\(system.patchVersion)"],
                        "device": device, "locale": Locale.current.identifier.replacingOccurrences(of: "_", with: "-"),
                        "installationId": installationId]
    if let personId = personId { item["personId"] = personId }
    if let contact = contact { item["contact"] = contact }
    return item
  }

  private static let model: String = {
    var size = 0
    sysctlbyname("hw.machine", nil, &size, nil, 0)
    var name = [CChar](repeating: 0, count: max(1, size))
    sysctlbyname("hw.machine", &name, &size, nil, 0)
    return String(cString: name)
  }()

  private static var systemName: String {
    #if os(iOS)
    return "iOS"
    #elseif os(macOS)
    return "macOS"
    #elseif os(tvOS)
    return "tvOS"
    #elseif os(watchOS)
    return "watchOS"
    #else
    return "visionOS"
    #endif
  }

  // MARK: Keeping and sending

  /// One item, one file: complete under its name, or not there.
  private func write(_ kind: String, _ item: Values) {
    if isOff { return }
    var kept: Values? = item
    if let look = options.beforeSend { kept = look(item) }
    // What is no JSON, such as a value of another type or a number that is none, is told in its own words.
    guard let plain = kept.map({ EmberReporter.plain($0) }), let bytes = try? JSONSerialization.data(withJSONObject: plain) else { return }
    if options.dryRun { return EmberReporter.tell("would send: \(String(decoding: bytes, as: UTF8.self))") }
    keep(bytes, kind: kind, ending: "item")
  }

  private func keep(_ bytes: Data, kind: String, ending: String) {
    let waits = waiting(ending)
    for file in waits.prefix(max(0, waits.count - Most.files + 1)) { try? FileManager.default.removeItem(at: file) }
    // Of a name that no other process of the app has, which may be writing at the same moment.
    let name = "\(Int(Date().timeIntervalSince1970 * 1_000))-\(UUID().uuidString)-\(kind).\(ending)"
    // Written beside and renamed; a full disk costs this item.
    try? bytes.write(to: options.folder.appendingPathComponent(name), options: .atomic)
  }

  private func waiting(_ ending: String) -> [URL] {
    let files = (try? FileManager.default.contentsOfDirectory(at: options.folder, includingPropertiesForKeys: nil)) ?? []
    return files.filter { $0.pathExtension == ending }.sorted { $0.lastPathComponent < $1.lastPathComponent }
  }

  private func sendInBackground() {
    if isOff || options.dryRun { return }
    sending.async { [weak self] in self?.send() }
  }

  /// Sends what waits until nothing does or the server cannot be reached.
  private func send() {
    for file in waiting("file") {
      guard let bytes = try? Data(contentsOf: file) else { continue }
      guard isTaken(post("/intake/v1/file?\(query)", "application/octet-stream", bytes)) else { return }
      try? FileManager.default.removeItem(at: file)
    }
    var most = Most.batchFiles
    while true {
      let files = Array(waiting("item").prefix(most))
      if files.isEmpty { return }
      let lines = files.compactMap { try? Data(contentsOf: $0) }
      let status = post("/intake/v1/batch", "application/x-ndjson", Data(lines.joined(separator: [UInt8(ascii: "\n")])))
      // Too large together: each goes alone, and what is too large alone is given up.
      if status == 413 && files.count > 1 {
        most = 1
        continue
      }
      if !isTaken(status) { return }
      for file in files { try? FileManager.default.removeItem(at: file) }
      // What cannot be removed would be sent without end.
      if files.contains(where: { FileManager.default.fileExists(atPath: $0.path) }) { return }
    }
  }

  private func isTaken(_ status: Int) -> Bool {
    status == 202 || status == 400 || status == 413
  }

  /// What the system's own diagnostics do not say of whose they are.
  private var query: String {
    var parts = URLComponents()
    parts.queryItems = [URLQueryItem(name: "version", value: options.version), URLQueryItem(name: "build", value: options.build),
                        URLQueryItem(name: "installationId", value: installationId), URLQueryItem(name: "deviceModel", value: EmberReporter.model)]
    return parts.percentEncodedQuery ?? ""
  }

  /// Gives the status of the answer; 0 where none came, or whoever answers is no server of ours, such as the page of a hotel.
  private func post(_ path: String, _ type: String, _ body: Data) -> Int {
    guard let url = URL(string: options.server + path) else { return 0 }
    var request = URLRequest(url: url, timeoutInterval: 20)
    request.httpMethod = "POST"
    request.httpBody = body
    request.setValue("Bearer \(options.key)", forHTTPHeaderField: "authorization")
    request.setValue(type, forHTTPHeaderField: "content-type")
    let answered = DispatchSemaphore(value: 0)
    var found = (status: 0, said: "")
    URLSession.shared.dataTask(with: request) { data, response, _ in
      found = ((response as? HTTPURLResponse)?.statusCode ?? 0, String(decoding: (data ?? Data()).prefix(16_000), as: UTF8.self))
      answered.signal()
    }.resume()
    answered.wait()
    if (400..<500).contains(found.status) && found.status != 429 && !toldRefusal {
      // Whoever develops the app should see it, and nobody else can mend it.
      toldRefusal = true
      EmberReporter.tell("was refused something by its server (status \(found.status)): \(found.said)")
    }
    return (found.status == 202 || found.status == 400) && !found.said.contains("\"items\"") ? 0 : found.status
  }

  // MARK: Small things

  private static func installation(in folder: URL) -> String {
    let file = folder.appendingPathComponent("installation")
    if let known = try? String(contentsOf: file, encoding: .utf8), UUID(uuidString: known) != nil { return known }
    let made = UUID().uuidString.lowercased()
    // Where it cannot be kept, every launch counts as an installation of its own.
    try? made.write(to: file, atomically: true, encoding: .utf8)
    return made
  }

  /// A path as a template: numbers and ids stand for themselves.
  static func pathTemplate(_ path: String) -> String {
    path.components(separatedBy: "/").map { part in
      if !part.isEmpty && part.allSatisfy({ $0.isASCII && $0.isNumber }) { return "{number}" }
      return part.range(of: "^[0-9a-fA-F]{8}-?[0-9a-fA-F-]{8,}$", options: .regularExpression) == nil ? part : "{id}"
    }.joined(separator: "/")
  }

  private static func hexadecimal(_ number: UInt64) -> String {
    "0x" + String(number, radix: 16)
  }

  private static let formatter: ISO8601DateFormatter = {
    let made = ISO8601DateFormatter()
    made.formatOptions = [.withInternetDateTime, .withFractionalSeconds]
    return made
  }()

  private static func now() -> String {
    formatter.string(from: Date())
  }

  /// A value as JSON can hold it.
  private static func plain(_ value: Any, _ depth: Int = 0) -> Any {
    if depth > 12 { return NSNull() }
    switch value {
    case let text as String: return text
    // Integers, booleans and fractions of Swift become numbers of Foundation, each printed as what it was.
    case let number as NSNumber: return number.doubleValue.isFinite ? number : NSNull()
    case let values as Values: return values.mapValues { plain($0, depth + 1) }
    case let list as [Any]: return list.map { plain($0, depth + 1) }
    case is NSNull: return NSNull()
    default: return String(describing: value)
    }
  }
}

#if canImport(MetricKit) && (os(iOS) || os(macOS) || os(visionOS))
@available(iOS 14.0, macOS 12.0, *)
extension EmberReporter: MXMetricManagerSubscriber {
  /// Crashes and hangs of earlier launches, as the system saw them: each payload comes once.
  public func didReceive(_ payloads: [MXDiagnosticPayload]) {
    for payload in payloads { keep(payload.jsonRepresentation(), kind: "diagnostic", ending: "file") }
    sendInBackground()
  }
}
#endif
