package com.larkfield.ringing

import kotlin.coroutines.Continuation
import kotlin.coroutines.EmptyCoroutineContext
import kotlin.coroutines.resume
import kotlin.coroutines.startCoroutine
import kotlin.coroutines.suspendCoroutine

private var waiting: Continuation<String?>? = null

private suspend fun fetch(name: String): String? = suspendCoroutine { waiting = it; if (name.isEmpty()) it.resume("") }

private suspend fun sync(name: String): Int {
    val text = fetch(name)
    return text!!.length
}

fun syncNow(name: String) {
    val body: suspend () -> Int = { sync(name) + 1 }
    body.startCoroutine(Continuation(EmptyCoroutineContext) { it.getOrThrow() })
    waiting!!.resume(null)
}

fun filterRings(codes: List<String>): List<Char> = codes.map { code -> code.first() }

inline fun measure(value: Int, body: (Int) -> Int): Int {
    val result = body(value)
    if (result < 0) throw IllegalArgumentException("measured $result")
    return result
}

fun measureAll(values: IntArray): Int = values.sumBy { value -> measure(value) { it - 2 } }

fun withDefault(text: String, from: Int = 5): String = text.substring(from)

fun callDefault(): String = withDefault("abc")

fun walk(steps: Int): Int {
    fun step(left: Int): Int = if (left == 0) listOf<Int>()[left] else step(left - 1)
    return step(steps)
}

class Nest(private val name: String) {
    private val eggs by lazy { name.toInt() }

    fun summary(): String = "eggs: $eggs"

    companion object {
        private val all = mapOf("high" to Nest("1"))

        fun find(name: String): Nest = all.getValue(name)
    }
}

interface Visited {
    val places: List<String>

    fun visit(): String = places.first().toUpperCase()
}

class Hedge : Visited {
    override val places: List<String> get() = emptyList()
}
